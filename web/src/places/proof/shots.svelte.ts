import { answer, api, type Schemas, words } from '../../api/client';

const wait = 1200; // ms between two questions how far the pictures have come

/** The pictures of a page before and after its draft: asked for once, and looked at until they are there. */
export class Shots {
  got = $state.raw<Schemas['PageShots'] | undefined>();
  problem = $state('');
  private timer: ReturnType<typeof setTimeout> | undefined;
  private ended = false;

  constructor(
    private number: number,
    private page: number,
    private onready: () => void,
  ) {
    void this.ask();
  }

  async ask() {
    const path = { number: this.number, page: this.page };
    try {
      const was = this.got?.state;
      const got =
        was === 'waiting' || was === 'taking'
          ? await answer(api.GET('/requests/{number}/proof/{page}/shots', { params: { path } }))
          : await answer(api.POST('/requests/{number}/proof/{page}/shots', { params: { path } }));
      if (this.ended) return;
      [this.got, this.problem] = [got, ''];
      if (got.state === 'ready' && was && was !== 'ready') this.onready();
    } catch (e) {
      this.problem = words(e);
    }
    if (!this.ended && (this.problem || this.under)) this.timer = setTimeout(() => void this.ask(), wait);
  }
  /** They are on their way. */
  get under() {
    return this.got?.state === 'waiting' || this.got?.state === 'taking';
  }
  end() {
    this.ended = true;
    clearTimeout(this.timer);
  }
}
