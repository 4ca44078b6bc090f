/** One of several tabs with the same thing in hand writes; the others follow. */
export class Tab {
  private release: (() => void) | undefined;
  private closed = false;
  private readonly channel: BroadcastChannel | undefined;

  constructor(
    private readonly name: string,
    /** Called when this tab begins to write, or to follow. */
    private readonly onturn: (writes: boolean) => void,
    /** Called when the one that writes has kept something. */
    private readonly onnews: () => void,
  ) {
    if (typeof navigator === 'undefined' || !('locks' in navigator)) return; // not on a page without TLS: then each tab writes, and is refused what is stale
    this.channel = new BroadcastChannel(name);
    this.channel.onmessage = () => this.onnews();
  }

  /** Begins to write, if no other tab does; otherwise waits for its turn. */
  open() {
    this.ask({ ifAvailable: true });
  }

  /** Takes the turn from the tab that has it. */
  take() {
    this.ask({ steal: true });
  }

  private ask(how: LockOptions) {
    if (!this.channel || this.closed) return;
    navigator.locks
      .request(this.name, how, (lock) => (lock ? this.hold() : this.wait()))
      .catch((e: unknown) => {
        if (e instanceof DOMException && e.name === 'AbortError') this.wait(); // another tab took it
        // Otherwise the browser gives this page no locks: each tab writes, as without TLS.
      });
  }

  private wait() {
    if (this.closed) return;
    this.onturn(false);
    this.ask({});
  }

  private hold() {
    if (this.closed) return undefined;
    this.onturn(true);
    return new Promise<void>((done) => (this.release = done));
  }

  /** Tells the others that something was kept. */
  tell() {
    this.channel?.postMessage('kept');
  }

  close() {
    this.closed = true;
    this.release?.();
    this.channel?.close();
  }
}
