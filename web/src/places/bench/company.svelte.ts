import type { Schemas } from '../../api/client';
import { answer, api } from '../../api/client';
import { ownName } from '../../look/ownName';

type News = Schemas['BenchNews'];

const moment = 300; // ms after which others are told where somebody is
const retry = 5000; // ms until a Mendry that refused is asked again

/** Who else has the page on the bench, and what they do to it. Only a tab that is looked at asks. */
export class Company {
  here = $state.raw<Schemas['BenchGuest'][]>([]);
  private readonly tab = ownName('tab');
  private events: EventSource | undefined;
  private part = '';
  private later: ReturnType<typeof setTimeout> | undefined;
  private again: ReturnType<typeof setTimeout> | undefined;
  private closed = false;

  constructor(
    private readonly number: number,
    private readonly page: number,
    private readonly onnews: (n: News) => void,
  ) {}

  open() {
    if (typeof EventSource === 'undefined' || this.closed) return;
    document.addEventListener('visibilitychange', this.look);
    this.look();
  }

  close() {
    this.closed = true;
    clearTimeout(this.later);
    this.leave();
    if (typeof document !== 'undefined') document.removeEventListener('visibilitychange', this.look);
  }

  /** Takes a seat while the tab is seen, and leaves it when it is not: a browser opens only a few lines to one server. */
  private look = () => {
    if (document.hidden) return this.leave();
    if (this.events && this.events.readyState !== EventSource.CLOSED) return;
    this.events = new EventSource(`/api/requests/${this.number}/bench/${this.page}/news?tab=${this.tab}`);
    let first = true;
    this.events.onopen = () => (first = true);
    this.events.onerror = () => {
      if (this.events?.readyState !== EventSource.CLOSED) return; // the browser asks again by itself
      this.leave();
      this.again = setTimeout(this.look, retry);
    };
    this.events.onmessage = (e: MessageEvent<string>) => {
      const news = JSON.parse(e.data) as News;
      this.here = news.here;
      this.onnews(news);
      if (first) this.tell();
      first = false;
    };
  };

  private leave() {
    clearTimeout(this.again);
    this.events?.close();
    [this.events, this.here] = [undefined, []];
  }

  /** Somebody takes a part in hand, or puts it down. */
  sit(part = '') {
    if (part === this.part) return;
    this.part = part;
    clearTimeout(this.later);
    this.later = setTimeout(() => this.tell(), moment);
  }

  private tell() {
    if (!this.events) return;
    const path = { number: this.number, page: this.page };
    answer(
      api.PUT('/requests/{number}/bench/{page}/here', { params: { path }, body: { tab: this.tab, part: this.part } }),
    ).catch(() => {}); // it is said again with the next part
  }
}
