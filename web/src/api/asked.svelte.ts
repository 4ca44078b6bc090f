import { words } from './client';

/** Something that is asked of the server: what came last, or why nothing did. */
export class Asked<T> {
  got = $state.raw<T | undefined>();
  problem = $state('');
  private times = 0;

  /** What `ask` reads before its first wait is what an effect that calls `again` follows. */
  constructor(private ask: () => Promise<T>) {}

  /** Asks again; of several questions under way only the last one counts. What was there stays until then. */
  async again() {
    const mine = ++this.times;
    try {
      const got = await this.ask();
      if (mine === this.times) [this.got, this.problem] = [got, ''];
    } catch (e) {
      if (mine === this.times) this.problem = words(e);
    }
  }

  /** Takes what an act answered with: what was asked before it and comes later no longer counts. */
  take(got: T) {
    this.times++;
    [this.got, this.problem] = [got, ''];
  }
}
