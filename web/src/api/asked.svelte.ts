import { words } from './client';

/** Something that is asked of the server: what came last, or why nothing did. */
export class Asked<T> {
  got = $state.raw<T | undefined>();
  problem = $state('');
  /** An answer is still to come. */
  waits = $state(false);
  private times = 0;

  /** What `ask` reads before its first wait is what an effect that calls `again` follows. */
  constructor(private ask: () => Promise<T>) {}

  /** Asks again; of several questions under way only the last one counts. What was there stays until then. */
  async again() {
    const mine = ++this.times;
    this.waits = true;
    try {
      const got = await this.ask();
      if (mine === this.times) [this.got, this.problem] = [got, ''];
    } catch (e) {
      if (mine === this.times) this.problem = words(e);
    }
    if (mine === this.times) this.waits = false;
  }

  /** Takes what an act answered with: what was asked before it and comes later no longer counts. */
  take(got: T) {
    this.times++;
    [this.got, this.problem, this.waits] = [got, '', false];
  }
}
