import { expect, inject, it, vi } from 'vitest';
import type { Block } from '../../parts/words/blocks';
import type { BenchPage } from './desk.svelte';

declare module 'vitest' {
  interface ProvidedContext {
    url: string;
    rounds: number;
    seed: number;
  }
}

// Two and three people's real outboxes against a real Mendry: whatever they type on one page, in whatever order it goes out,
// with answers that are lost, each word that one of them typed stands on the page at the end, once, in the editor of each;
// or it was shown to a person who decided against it.
const [url, rounds, seed] = [inject('url'), inject('rounds'), inject('seed')];
let state = seed;
const random = (most: number) => (state = (state * 48271) % 2147483647) % most; // Park and Miller's generator
const pick = <T>(all: T[]): T => all[random(all.length)]!;

const stored = new Map<string, string>();
vi.stubGlobal('localStorage', {
  getItem: (k: string) => stored.get(k) ?? null,
  setItem: (k: string, v: string) => stored.set(k, v),
  removeItem: (k: string) => stored.delete(k),
});
let cookie = '';
const [plainFetch, PlainRequest] = [globalThis.fetch, globalThis.Request];
const session = { me: { id: 1, name: '', csrf: '' } };
let loses = 0; // how many of a hundred answers are lost
vi.stubGlobal(
  'Request',
  class extends PlainRequest {
    constructor(input: RequestInfo | URL, init?: RequestInit) {
      super(typeof input === 'string' && input.startsWith('/') ? url + input : input, init);
    }
  },
);
vi.stubGlobal('fetch', async (request: Request) => {
  const headers = new Headers(request.headers);
  headers.set('Cookie', cookie);
  const body = request.method === 'GET' ? undefined : await request.text();
  const lost = request.method === 'POST' && request.url.includes('/bench/') && random(100) < loses;
  if (lost && random(3) === 0) throw new TypeError('it never arrives');
  const got = await plainFetch(request.url, { method: request.method, headers, body });
  cookie = got.headers.getSetCookie()[0]?.split(';')[0] ?? cookie;
  if (lost) throw new TypeError('the answer is lost');
  return got;
});
vi.mock('../../api/session.svelte', () => ({ session, refresh: () => Promise.resolve() }));

const { answer, api, setToken } = await import('../../api/client');
const { BenchPage: Bench } = await import('./desk.svelte');
const { worded } = await import('./onto');

const words = (blocks: Block[]) => blocks.map((b) => (b.html ?? '').replace(/<[^>]*>/g, ''));

class Editor {
  readonly page: BenchPage;
  private typed = 0;
  constructor(
    readonly name: string,
    number: number,
    page: number,
    /** What somebody decided against, or took out. */
    private readonly gone: Set<string>,
  ) {
    this.page = new Bench(
      number,
      page,
      () => {},
      () => {},
    );
    Object.assign(this.page.unsent.box, { name }); // at a machine of their own
  }

  /** The run in hand: taken again where others' acts took it away. */
  get hand() {
    const first = this.page.bench!.runs.find((r) => r.blocks.filter((b) => b.form).length > 1)!;
    if (!this.page.hand) this.page.take(first.blocks.find((b) => b.form)!.part);
    return this.page.hand!;
  }

  /** The run as the page has it. */
  onPage(): Block[] {
    const { hand, page } = this;
    const part = Object.values(hand.parts)[0];
    const run = page.bench!.runs.find((r) => r.blocks.some((b) => b.part === part))!;
    return worded(page.bench!, run).map((b) => ({ ...b, key: b.part }));
  }

  act() {
    const { hand } = this;
    const blocks = [...hand.now];
    const whole = blocks.flatMap((b, i) => (b.form && !/</.test(b.html ?? '') ? [i] : []));
    if (!whole.length) return;
    const at = pick(whole);
    const token = `${this.name}${this.typed++}x`;
    const said = (blocks[at]!.html ?? '').split(' ');
    switch (random(8)) {
      case 0:
        blocks.splice(at + 1, 0, { key: hand.key(), form: 'p', html: token });
        break;
      case 1: {
        const [out] = blocks.filter((b) => b.form).length > 2 ? blocks.splice(at, 1) : [];
        for (const w of (out?.html ?? '').split(' ')) this.gone.add(w);
        this.typed--;
        break;
      }
      case 2: {
        const i = random(said.length); // one word in the place of another
        this.gone.add(said[i]!);
        said[i] = token;
        blocks[at] = { ...blocks[at]!, html: said.join(' ') };
        break;
      }
      default:
        said.splice(random(said.length + 1), 0, token);
        blocks[at] = { ...blocks[at]!, html: said.join(' ') };
    }
    this.page.typeRun(hand, blocks, undefined, blocks[Math.min(at, blocks.length - 1)]!.key);
  }

  /** Each word that was typed here. */
  tokens = () => Array.from({ length: this.typed }, (_, i) => `${this.name}${i}x`);

  hears = () =>
    (this.page as unknown as { news: (n: object) => Promise<void> }).news({
      draft: `unknown ${random(1e9)}`,
      by: '',
      here: [],
    });

  decide() {
    for (const two of [...this.page.unsent.undecided]) {
      const mine = random(2) === 0;
      for (const w of (mine ? two.theirs : two.mine).split(/\s/)) this.gone.add(w);
      two.decide(mine);
    }
  }
}

async function signedIn() {
  const me = await answer(api.POST('/session', { body: { sign_in: 'ines', password: 'harbour lane' } }));
  Object.assign(session.me, me);
  setToken(me.csrf);
}

it(`loses no word in ${rounds} interleavings`, async () => {
  await signedIn();
  const sites = await answer(api.GET('/sites'));
  const site = sites.find((s) => s.name === 'Bramble Row Seed Library')!.id;
  const { pages } = await answer(api.GET('/sites/{site}', { params: { path: { site } } }));
  const page = pages.find((p) => p.address === '/articles/broad-beans')!.id;
  const told = { words: 0, decided: 0, aside: 0, met: 0 };
  for (let round = 0; round < rounds; round++) {
    const began = state;
    const made = await answer(
      api.POST('/requests', { body: { site_id: site, subject: '', letter: 'All of you, please.', kind: 'mail' } }),
    );
    const number = made.row.number;
    const gone = new Set<string>();
    stored.clear();
    loses = round % 3 === 0 ? 15 : 0;
    const editors = (round % 2 ? ['a', 'b'] : ['a', 'b', 'c']).map((n) => new Editor(n, number, page, gone));
    for (const e of editors) await e.page.load();
    for (let n = 6 + random(14); n > 0; n--) {
      const e = pick(editors);
      e.act();
      const then = random(6);
      if (then === 0) await e.page.flush();
      else if (then < 3) void e.page.flush();
      else if (then === 3) void e.hears();
      else if (then === 4) await new Promise((done) => setTimeout(done, random(30)));
    }
    loses = 0;
    for (let more = true, tries = 0; more; tries++) {
      if (tries > 40)
        throw new Error(
          `round ${round}, MENDRY_SEED=${began}: it does not come to rest: ${JSON.stringify(editors.map((e) => [e.page.state, e.page.problem, e.page.bench!.draft.slice(0, 6), e.page.unsent.undecided, e.page.unsent.box.waiting]))}`,
        );
      for (const e of editors) {
        await e.page.flush();
        told.decided += e.page.unsent.undecided.length;
        e.decide();
        await e.page.flush();
        await e.hears();
      }
      more = editors.some((e) => e.page.state !== 'kept' || e.page.bench!.draft !== editors[0]!.page.bench!.draft);
    }
    const of = `round ${round}, MENDRY_SEED=${began}, request ${number}`;
    const all = words(editors[0]!.onPage());
    for (const e of editors) {
      expect(words(e.hand.now), `${of}: the editor of ${e.name}`).toEqual(all);
      const aside = e.page.unsent.aside.flatMap((s) => (s.act.do === 'run' ? words(s.act.blocks as Block[]) : []));
      told.aside += e.page.unsent.aside.length;
      for (const token of e.tokens()) {
        told.words++;
        const times = all
          .join(' ')
          .split(' ')
          .filter((w) => w === token).length;
        const shown = gone.has(token) || aside.join(' ').includes(token);
        expect(shown ? Math.min(times, 1) : times, `${of}: ${token} in ${JSON.stringify(all)}`).toBe(
          shown ? Math.min(times, 1) : 1,
        );
      }
      e.page.close();
    }
  }
  console.log(`${rounds} interleavings: ${told.words} words, ${told.decided} decisions, ${told.aside} set aside`);
});
