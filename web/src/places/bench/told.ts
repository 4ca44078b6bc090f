/** How long a page is waited for, in ms, that does not answer: one that hangs cannot be pointed at either. */
const patience = 2000;

/** Asks frames whether all that happened in them was told: their answer comes behind it. */
export class Told {
  private count = 0;
  private waits = new Map<number, () => void>();

  ask(send: (n: number) => void): Promise<void> {
    const n = ++this.count;
    return new Promise((told) => {
      this.waits.set(n, told);
      setTimeout(() => this.heard(n), patience);
      send(n);
    });
  }

  heard(n: number) {
    this.waits.get(n)?.();
    this.waits.delete(n);
  }
}
