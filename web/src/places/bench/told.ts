/** How long a page is waited for, in ms, that does not answer: one that hangs cannot be pointed at either. */
const patience = 2000;

/** Asks frames whether all that happened in them was told: their answer comes behind it. */
export class Told {
  private count = 0;
  private waits = new Map<number, () => void>();
  private hangs = false;

  /** A page that hung when it was asked last is waited for no more, until it answers. */
  ask(send: (n: number) => void): Promise<void> {
    const n = ++this.count;
    send(n);
    if (this.hangs) return Promise.resolve();
    return new Promise((told) => {
      this.waits.set(n, told);
      setTimeout(() => {
        if (this.goesOn(n)) this.hangs = true;
      }, patience);
    });
  }

  heard(n: number) {
    this.hangs = false;
    this.goesOn(n);
  }

  private goesOn(n: number): boolean {
    this.waits.get(n)?.();
    return this.waits.delete(n);
  }
}
