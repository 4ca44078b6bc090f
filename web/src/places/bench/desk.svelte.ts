import { answer, api, Refusal, words, type Schemas } from '../../api/client';
import { refresh } from '../../api/session.svelte';

export type Act = Schemas['Act'];

/** An act that waits to be kept. */
type Waiting = { act: Act; wish_id?: number };

/** Whether two acts are wordings of the same thing: the later one takes the place of the earlier. */
function sameThing(a: Act, b: Act) {
  const of = (x: Act) => [x.do, 'part' in x ? x.part : '', 'name' in x ? x.name : ''].join(' ');
  return of(a) === of(b);
}

/** What is typed and not kept yet lies in this browser until Mendry has it. */
const drawer = (number: number, page: number) => `mendry.unsent.${number}.${page}`;

/** The bench as an answer leaves it, which may list only the parts that are other than they were. */
function taken(had: Schemas['Bench'], got: Schemas['Bench']): Schemas['Bench'] {
  const { live_url, draft_url } = had;
  if (got.whole) return { ...got, live_url, draft_url };
  const other = new Map(got.parts.map((p) => [p.id, p]));
  const parts = had.parts.map((p) => {
    const now = other.get(p.id);
    return now ? { ...now, shared: p.shared } : p;
  });
  return { ...got, live_url, draft_url, parts, whole: true };
}

/**
 * A page on the bench. Changes go to Mendry one after the other; what was typed last in a part replaces what waits for
 * the same part, and survives a reload and a Mendry that cannot be reached.
 */
export class BenchPage {
  bench = $state<Schemas['Bench'] | undefined>();
  problem = $state('');
  state = $state<'kept' | 'typing' | 'keeping' | 'unsent'>('kept');
  /** Where the cursor goes in the next part that is taken up: so far before its end, or before such words there. */
  cursor: number | string | undefined;
  private waiting: Waiting[] = [];
  private shown = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private running: Promise<void> | undefined;

  constructor(
    readonly number: number,
    readonly page: number,
    /** Called when the page in the frame has to be loaded again. */
    readonly onredraw: () => void,
    /** Shows typed words in the page before they are kept. */
    readonly ontyped: (part: string, html: string) => void,
  ) {}

  private path() {
    return { params: { path: { number: this.number, page: this.page } } };
  }

  async load() {
    try {
      this.bench = await answer(api.GET('/requests/{number}/bench/{page}', this.path()));
      this.problem = '';
    } catch (e) {
      this.problem = words(e);
      return;
    }
    const left = localStorage.getItem(drawer(this.number, this.page));
    if (left) {
      this.waiting = JSON.parse(left) as Waiting[];
      await this.flush();
      this.onredraw();
    }
  }

  /** Shows the page as it will be written, after words were shown in it while they were typed; not at once, so that the
   * click that left the words still reaches the page. */
  async settle() {
    await this.flush();
    if (!this.shown) return;
    this.shown = false;
    setTimeout(() => this.state === 'kept' && this.onredraw(), 700);
  }

  /** Takes what is typed and keeps it when the typing pauses. */
  type(act: Act, wish?: number) {
    this.waiting = [...this.waiting.filter((w) => !sameThing(w.act, act)), { act, wish_id: wish }];
    this.store();
    if (act.do === 'markup') {
      this.shown ||= /</.test(act.html);
      this.ontyped(act.part, act.html);
    }
    this.state = 'typing';
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.flush(), 350);
  }

  /** Makes a change at once. Gives the part that it made, to go on in. */
  async make(act: Act, wish?: number) {
    await this.flush();
    if (this.bench) this.bench.made = undefined;
    this.waiting.push({ act, wish_id: wish });
    await this.flush();
    this.onredraw();
    return this.bench?.made;
  }

  takeCursor() {
    const at = this.cursor;
    this.cursor = undefined;
    return at;
  }

  /** Looks at the page again after changes were made elsewhere. */
  async again() {
    await this.flush();
    const got = await answer(api.GET('/requests/{number}/bench/{page}', this.path()));
    this.bench = this.bench ? taken(this.bench, got) : got;
    this.onredraw();
  }

  private store() {
    const key = drawer(this.number, this.page);
    if (this.waiting.length) localStorage.setItem(key, JSON.stringify(this.waiting));
    else localStorage.removeItem(key);
  }

  /** Keeps everything that waits. */
  async flush(): Promise<void> {
    clearTimeout(this.timer);
    while (this.running) await this.running;
    if (!this.waiting.length) return;
    this.running = this.work().finally(() => (this.running = undefined));
    return this.running;
  }

  private async work() {
    this.state = 'keeping';
    while (this.waiting.length && this.bench) {
      const f = this.waiting[0]!;
      try {
        const got = await answer(
          api.POST('/requests/{number}/bench/{page}', {
            ...this.path(),
            body: { ...f, draft: this.bench.draft },
            keepalive: true,
          }),
        );
        this.bench = taken(this.bench, got);
        this.problem = '';
        this.done(f);
      } catch (e) {
        if (!(await this.failed(f, e))) return;
      }
    }
    this.state = 'kept';
    refresh();
  }

  private done(f: Waiting) {
    this.waiting = this.waiting.filter((w) => w !== f);
    this.store();
  }

  /** Reports whether to go on with the next one. */
  private async failed(f: Waiting, e: unknown): Promise<boolean> {
    this.problem = words(e);
    if (e instanceof Refusal && (e.status === 0 || e.status >= 500)) {
      this.state = 'unsent';
      this.timer = setTimeout(() => this.flush(), 2000);
      return false;
    }
    this.done(f);
    if (e instanceof Refusal && e.status === 409) {
      const keep = this.problem;
      this.bench = await answer(api.GET('/requests/{number}/bench/{page}', this.path()));
      this.problem = keep;
      this.onredraw();
    }
    return true;
  }

  async drop(change: number) {
    await this.flush();
    await answer(
      api.DELETE('/requests/{number}/changes/{change}', { params: { path: { number: this.number, change } } }),
    );
    await this.again();
    refresh();
  }
}
