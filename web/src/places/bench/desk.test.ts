import { beforeEach, expect, it, vi } from 'vitest';
import type { Block } from '../../parts/words/blocks';
import { type Typed, wordsIn } from './typed';

// The server, as far as the bench speaks to it: each call is answered by what `answers` holds next.
const calls: {
  method: string;
  outbox?: string;
  body?: { act: unknown; draft: string; sent: { outbox: string; number: number } };
}[] = [];
let answers: (() => Promise<unknown>)[] = [];
vi.mock('../../api/client', async () => {
  class Refusal extends Error {
    constructor(
      readonly status: number,
      say: string,
    ) {
      super(say);
    }
  }
  const call = (method: string) => (_: string, o: { body?: never; params?: { query?: { outbox: string } } }) => {
    calls.push({ method, body: o.body, outbox: o.params?.query?.outbox });
    return (answers.shift() ?? (() => Promise.resolve(bench('after'))))();
  };
  return {
    Refusal,
    answer: <T>(p: Promise<T>) => p,
    api: { GET: call('GET'), POST: call('POST'), DELETE: call('DELETE') },
    words: (e: Error) => e.message,
  };
});
// Who is signed in, and what is found out when that is asked anew.
const session = { me: { id: 1, csrf: 'a' } as { id: number; csrf: string } | null };
let anew = () => {};
vi.mock('../../api/session.svelte', () => ({ session, refresh: () => anew() }));

type Listed = { id: string; text: string; edit?: string; title?: string; shared: string };
const some: Listed[] = ['words-1', 'words-2', 'cell-1', 'cell-2'].map((id) => ({
  id,
  text: '',
  edit: '',
  title: '',
  shared: '',
}));
const bench = (draft: string, parts = some, whole = true) => ({
  draft,
  facts: { title: '', description: '' },
  runs: [],
  keys: {},
  live_url: 'live',
  draft_url: 'draft',
  parts,
  whole,
  changes: [],
  arrived: 0,
});
const stored = new Map<string, string>();
vi.stubGlobal('localStorage', {
  getItem: (k: string) => stored.get(k) ?? null,
  setItem: (k: string, v: string) => stored.set(k, v),
  removeItem: (k: string) => stored.delete(k),
});

const { BenchPage } = await import('./desk.svelte');
const { Refusal } = await import('../../api/client');

async function open() {
  const redrawn = vi.fn();
  answers.unshift(() => Promise.resolve(bench('before')));
  const page = new BenchPage(201, 7, redrawn, () => {});
  await page.load();
  calls.length = 0;
  return { page, redrawn };
}

/** Types in a field, as a component does that has it. */
function typeIn(page: InstanceType<typeof BenchPage>, act: Typed) {
  const field = page.unsent.field(page.bench!, act);
  field.type(wordsIn(act));
  return field;
}

beforeEach(() => {
  vi.useFakeTimers();
  stored.clear();
  session.me = { id: 1, csrf: 'a' };
  anew = () => {};
  calls.length = 0;
  answers = [];
});

it('keeps what was typed last in a part, once', async () => {
  const { page } = await open();
  for (const html of ['M', 'Mi', 'Mind']) typeIn(page, { do: 'markup', part: 'words-1', html });
  typeIn(page, { do: 'markup', part: 'words-2', html: 'the gap' });
  typeIn(page, { do: 'attribute', part: 'words-1', name: 'title', words: 'x' });
  await page.flush();
  expect(calls.map((c) => c.body!.act)).toEqual([
    { do: 'markup', part: 'words-1', html: 'Mind' },
    { do: 'markup', part: 'words-2', html: 'the gap' },
    { do: 'attribute', part: 'words-1', name: 'title', words: 'x' },
  ]);
  expect(calls.map((c) => c.body!.draft)).toEqual(['before', 'after', 'after']);
  expect(page.state).toBe('kept');
  expect(stored.size).toBe(0);
});

it('holds what is typed while Mendry is away, over a reload, and sends it when it is back', async () => {
  const { page } = await open();
  answers = [() => Promise.reject(new Refusal(0, 'away'))];
  typeIn(page, { do: 'markup', part: 'words-1', html: 'Mind the gap' });
  await page.flush();
  expect(page.state).toBe('unsent');
  expect([...stored.values()][0]).toContain('Mind the gap');
  answers = [];
  const again = await open(); // the page was loaded again
  expect(again.redrawn).toHaveBeenCalled();
  expect(stored.size).toBe(0);
});

it('says no longer that Mendry is away when what was sent is seen to have arrived', async () => {
  const { page } = await open();
  answers = [
    () => Promise.reject(new Refusal(0, 'away')),
    () => Promise.reject(new Refusal(409, 'changed')),
    () => Promise.resolve(bench('now', [{ id: 'words-1', text: 'a', edit: 'a', shared: '' }])),
  ];
  typeIn(page, { do: 'markup', part: 'words-1', html: 'a' });
  await page.flush();
  expect([page.state, page.problem]).toEqual(['unsent', 'away']);
  answers.splice(0, 1);
  await page.again();
  await vi.advanceTimersByTimeAsync(2100);
  expect([page.state, page.problem, stored.size]).toEqual(['kept', '', 0]);
});

it('does not do an act twice of which no answer came and that arrived, also after a reload', async () => {
  for (const reloads of [false, true]) {
    const first = await open();
    answers = [() => Promise.reject(new Refusal(0, 'away'))];
    await first.page.make({ do: 'remove', part: 'words-1' });
    const sent = calls.find((c) => c.method === 'POST')!.body!.sent;
    expect([first.page.state, sent.number]).toEqual(['unsent', 1]);
    const seen = () => Promise.resolve({ ...bench('now'), arrived: sent.number });
    let page = first.page;
    if (reloads) {
      vi.clearAllTimers(); // with the page that was left
      answers = [seen];
      page = new BenchPage(201, 7, vi.fn(), () => {});
      await page.load();
    } else {
      answers = [() => Promise.reject(new Refusal(409, 'changed')), seen];
      await page.flush();
    }
    expect(calls.filter((c) => c.method === 'POST')).toHaveLength(reloads ? 1 : 2);
    expect(calls.at(-1)!.outbox).toBe(sent.outbox);
    expect([page.state, page.unsent.aside, stored.size]).toEqual(['kept', [], 0]);
    await vi.advanceTimersByTimeAsync(5000);
    expect(calls.filter((c) => c.method === 'POST')).toHaveLength(reloads ? 1 : 2);
  }
});

it('tries again by itself', async () => {
  const { page } = await open();
  answers = [() => Promise.reject(new Refusal(503, 'busy'))];
  typeIn(page, { do: 'fact', name: 'title', words: 'Fares' });
  await page.flush();
  await vi.advanceTimersByTimeAsync(2100);
  expect(calls.filter((c) => c.method === 'POST')).toHaveLength(2);
  expect(page.state).toBe('kept');
});

it('sends again what met the end of its session, for whom it was typed alone', async () => {
  const { page } = await open();
  const ended = () => Promise.reject(new Refusal(403, 'This page is from an earlier session.'));
  const type = async (html: string) => {
    typeIn(page, { do: 'markup', part: 'words-1', html });
    await page.flush();
    return [page.state, calls.filter((c) => c.method === 'POST').length, page.unsent.aside.length];
  };
  answers = [ended];
  anew = () => (session.me = { id: 1, csrf: 'b' }); // in another tab
  expect(await type('Mind')).toEqual(['kept', 2, 0]);
  answers = [ended];
  anew = () => (session.me = { id: 2, csrf: 'c' });
  expect(await type('Mind the gap')).toEqual(['unsent', 3, 0]);
  expect(await type('Mind the gap!')).toEqual(['typing', 3, 0]); // by somebody else nothing is sent
  page.close();
  await open();
  expect(calls.filter((c) => c.method === 'POST')).toHaveLength(0);
  session.me = { id: 1, csrf: 'd' };
  await open();
  expect(stored.size).toBe(0);
});

it('puts aside what somebody may not do', async () => {
  const { page } = await open();
  answers = [() => Promise.reject(new Refusal(403, 'You may look only.'))];
  typeIn(page, { do: 'markup', part: 'words-1', html: 'a' });
  await page.flush();
  expect([page.state, page.unsent.aside.length]).toEqual(['kept', 1]);
});

it('goes on with the next one after a refusal', async () => {
  const { page } = await open();
  answers = [() => Promise.reject(new Refusal(422, 'It is locked.'))];
  typeIn(page, { do: 'markup', part: 'words-1', html: 'a' });
  typeIn(page, { do: 'markup', part: 'words-2', html: 'b' });
  await page.flush();
  expect(calls).toHaveLength(2);
});

it('tries what is typed until others leave it a moment, and an act a few times, on a part that is as it was', async () => {
  const { page } = await open();
  const changed = () => Promise.reject(new Refusal(409, 'changed'));
  const seen = () => Promise.resolve(bench('now'));
  answers = Array.from({ length: 9 }, () => [changed, seen]).flat();
  typeIn(page, { do: 'markup', part: 'words-1', html: 'a' });
  const kept = page.flush();
  await vi.advanceTimersByTimeAsync(5000);
  await kept;
  expect([page.state, page.unsent.aside, calls.filter((c) => c.method === 'POST').length]).toEqual(['kept', [], 10]);
  answers = Array.from({ length: 9 }, () => [changed, seen]).flat();
  await page.make({ do: 'remove', part: 'words-2' });
  expect(page.unsent.aside.map((s) => s.act)).toEqual([{ do: 'remove', part: 'words-2' }]);
  expect(calls.filter((c) => c.method === 'POST').length).toBe(14);
});

it('brings what others make of the same words into what is typed, and lets somebody decide where it cannot', async () => {
  const said = (draft: string, edit: string) => bench(draft, [{ id: 'cell-1', text: edit, edit, shared: '' }]);
  answers = [() => Promise.resolve(said('one', 'The boats sail at nine.'))];
  const page = new BenchPage(
    201,
    7,
    () => {},
    () => {},
  );
  await page.load();
  const changed = () => Promise.reject(new Refusal(409, 'changed'));
  const field = page.unsent.field(page.bench!, { do: 'markup', part: 'cell-1', html: '' });
  field.type('INES. The boats sail at nine.');
  const tobias = 'The boats sail at nine. TOBIAS.';
  answers = [
    changed,
    () => Promise.resolve(said('two', tobias)),
    () => Promise.resolve(said('three', `INES. ${tobias}`)),
  ];
  await page.flush();
  const both = `INES. ${tobias}`;
  expect([calls.at(-1)!.body!.act, field.now, field.brought]).toEqual([
    { do: 'markup', part: 'cell-1', html: both },
    both,
    both,
  ]);
  for (const mine of [true, false]) {
    field.type(both.replace('nine', 'ten'));
    answers = [changed, () => Promise.resolve(said('four', both.replace('nine', 'six')))];
    await page.flush();
    expect([page.state, page.unsent.undecided.map((u) => [u.mine, u.theirs])]).toEqual([
      'undecided',
      [[both.replace('nine', 'ten'), both.replace('nine', 'six')]],
    ]);
    const posts = calls.length;
    await page.flush();
    expect([calls.length, stored.size]).toEqual([posts, 1]);
    answers = [() => Promise.resolve(said('five', both.replace('nine', 'ten')))];
    page.unsent.undecided[0]!.decide(mine);
    await page.flush();
    expect([page.state, field.now, calls.length - posts]).toEqual(
      mine ? ['kept', both.replace('nine', 'ten'), 1] : ['kept', both.replace('nine', 'six'), 0],
    );
    answers = [() => Promise.resolve(said('six', both))];
    await page.again();
    expect(field.now).toBe(both);
  }
  expect(stored.size).toBe(0);
});

it('begins a field with what was typed last of the same thing and is not kept yet', async () => {
  const { page } = await open();
  const cell = { do: 'markup' as const, part: 'cell-1', html: '' };
  const begins = (act: Typed) => page.unsent.field(page.bench!, act).now;
  let answer: (b: unknown) => void = () => {};
  answers = [() => new Promise((then) => (answer = then))];
  const field = typeIn(page, { ...cell, html: 'One' });
  page.unsent.leave(field);
  const sent = page.flush();
  expect(begins(cell)).toBe('One'); // it is on its way
  field.type('One more');
  expect([begins(cell), begins({ ...cell, part: 'cell-2' })]).toEqual(['One more', '']);
  const kept = (edit: string) => bench(edit, [{ id: 'cell-1', text: edit, edit, shared: '' }], false);
  answers = [() => Promise.resolve(kept('One more'))];
  answer(kept('One'));
  await sent;
  page.unsent.leave(field);
  expect([begins(cell), page.bench!.draft]).toEqual(['One more', 'One more']);
});

it('asks for the page only when nothing is on its way, and sends nothing while it is asked for', async () => {
  const { page } = await open();
  let answer: (b: unknown) => void = () => {};
  answers = [() => new Promise((then) => (answer = then))];
  const again = page.again();
  await vi.advanceTimersByTimeAsync(1); // it is asked for
  typeIn(page, { do: 'markup', part: 'words-1', html: 'a' });
  answers = [() => Promise.resolve(bench('kept'))];
  const sent = page.flush();
  await vi.advanceTimersByTimeAsync(500);
  expect(calls.filter((c) => c.method === 'POST')).toHaveLength(0);
  answer(bench('theirs'));
  await Promise.all([again, sent]);
  expect([page.bench!.draft, calls.find((c) => c.method === 'POST')!.body!.draft]).toEqual(['kept', 'theirs']);
});

it('looks at the page again when what is pointed at has its name by a draft that is not known here', async () => {
  const { page, redrawn } = await open();
  answers = [() => Promise.resolve({ ...bench('two', [], false), keys: {} })];
  typeIn(page, { do: 'markup', part: 'words-1', html: 'a' }); // all parts keep their names
  await page.flush();
  const gets = () => calls.filter((c) => c.method === 'GET').length;
  for (const draft of ['before', 'two', undefined]) await page.pointed(draft);
  expect([gets(), redrawn.mock.calls.length, page.taken]).toEqual([0, 0, 3]);
  answers = [() => Promise.resolve(bench('by them'))];
  await page.pointed('by them');
  expect([gets(), redrawn.mock.calls.length, page.names]).toEqual([1, 1, ['by them']]);
});

it('takes over the parts that an answer lists and leaves the others, with what is known of them', async () => {
  answers = [
    () =>
      Promise.resolve(
        bench('one', [
          { id: 'words-1', text: 'Mind', shared: 'is on 9 pages' },
          { id: 'words-2', text: 'the gap', shared: '' },
        ]),
      ),
    () => Promise.resolve(bench('two', [{ id: 'words-1', text: 'Mind it', shared: '' }], false)),
    () => Promise.resolve(bench('three', [{ id: 'words-1', text: 'All', shared: '' }])),
  ];
  const page = new BenchPage(
    201,
    7,
    () => {},
    () => {},
  );
  await page.load();
  await page.make({ do: 'words', part: 'words-1', words: 'Mind it' });
  expect(page.bench!.parts.map((p) => [p.text, p.shared])).toEqual([
    ['Mind it', 'is on 9 pages'],
    ['the gap', ''],
  ]);
  expect(page.bench!.draft).toBe('two');
  await page.make({ do: 'remove', part: 'words-2' });
  expect(page.bench!.parts.map((p) => p.text)).toEqual(['All']);
});

it('goes on in a run from what was typed in a link of it, though that was answered only after the run was taken in hand', async () => {
  const parts = (link: string) =>
    [
      { id: 'words-1', text: 'Call us.', edit: 'Call us.', shared: '' },
      { id: 'words-2', text: `The ${link} lies there.`, edit: `The <a href="/a">${link}</a> lies there.`, shared: '' },
      { id: 'link-1', text: link, edit: link, shared: '' },
    ] satisfies Listed[];
  const runs = [{ blocks: ['words-1', 'words-2'].map((part) => ({ part, form: 'p', name: '' })) }];
  const link = (name: string, rest: string) => `The <a href="/a">${name}</a> ${rest}`;
  const beside: [string[], string][] = [
    [['Call us now.', link('Alder', 'lies there.')], 'lies there.'],
    [['Call us.', link('Alder', 'lies right there.')], 'lies right there.'], // in the same block
  ];
  for (const [whole, [typed, rest]] of [true, false].flatMap((w) => beside.map((b) => [w, b] as const))) {
    stored.clear();
    answers = [() => Promise.resolve({ ...bench('one', parts('Alder')), runs })];
    const page = new BenchPage(
      201,
      7,
      () => {},
      () => {},
      () => {},
      () => {},
    );
    await page.load();
    let answered!: () => void;
    answers = [() => new Promise((ok) => (answered = () => ok({ ...bench('two', parts('Rowan'), whole), runs })))];
    typeIn(page, { do: 'markup', part: 'link-1', html: 'Rowan' });
    const sent = page.flush();
    page.take('words-1');
    const hand = page.hand!;
    page.typeRun(
      hand,
      hand.now.map((b, i) => ({ ...b, html: typed[i]! })),
    );
    answered();
    await sent;
    expect(page.hand).toBe(hand);
    expect(hand.brought!.map((b) => b.html)).toEqual([typed[0], link('Rowan', rest)]);
    await page.flush();
    const act = calls.at(-1)!.body!.act as { blocks: { html: string }[] };
    expect(act.blocks.map((b) => b.html)).toEqual([typed[0], link('Rowan', rest)]);
  }
});

it('keeps the words of a block that is empty while the cursor is in it, and takes it out when the cursor leaves', async () => {
  const parts = ['One', 'Two'].map((edit, i) => ({ id: `words-${i + 1}`, edit, text: edit, shared: '' }));
  const runs = [{ blocks: parts.map((p) => ({ part: p.id, form: 'p', name: '' })) }];
  answers = [() => Promise.resolve({ ...bench('one', parts), runs })];
  const page = new BenchPage(
    201,
    7,
    () => {},
    () => {},
  );
  await page.load();
  calls.length = 0;
  page.take('words-1');
  const hand = page.hand!;
  const [a, b] = hand.now.map((x) => x.key);
  answers = [1].map(() => () => Promise.resolve({ ...bench('two', [], false), runs: [], keys: hand.parts }));
  hand.at = a;
  page.typeRun(hand, [{ ...hand.now[0]!, html: '' }, hand.now[1]!]);
  await page.flush();
  page.left(hand, a!);
  expect(hand.emptied(null)).toBe(true); // also when the cursor leaves the run
  page.left(hand, b!);
  await page.flush();
  const html = calls.map((c) => (c.body!.act as { blocks: { html: string }[] }).blocks.map((x) => x.html));
  expect(html).toEqual([['', 'Two']]);
});

it('goes on in the same editor when an answer was lost, and tells it what others did meanwhile', async () => {
  const of = (...said: string[]) => {
    const parts = said.map((edit, i) => ({ id: `words-${i + 1}`, edit, text: edit, shared: '' }));
    return { parts, runs: [{ blocks: parts.map((p) => ({ part: p.id, form: 'p', name: '' })) }] };
  };
  const drawn = vi.fn();
  const first = of('One', 'Two');
  answers = [() => Promise.resolve({ ...bench('one', first.parts), runs: first.runs })];
  const page = new BenchPage(201, 7, drawn, () => {});
  await page.load();
  page.take('words-1');
  const hand = page.hand!;
  const [one, two] = hand.now as [Block, Block];
  const [a, b] = [one.key, two.key];
  const fresh = { key: 'new', form: 'p' as const, html: 'Between' };
  const seen = of('One', 'Between', 'Two by them'); // what was sent had arrived, and somebody reworded the last
  answers = [
    () => Promise.reject(new Refusal(0, 'away')),
    () => Promise.reject(new Refusal(409, 'changed')),
    () => Promise.resolve({ ...bench('two', seen.parts), runs: seen.runs, arrived: 1 }),
    () =>
      Promise.resolve({
        ...bench('three', [], false),
        runs: [],
        keys: { [a]: 'words-1', new: 'words-2', [b]: 'words-3' },
      }),
  ];
  page.typeRun(hand, [one, fresh, two]);
  await page.flush();
  expect([page.state, page.problem]).toEqual(['unsent', 'away']);
  page.typeRun(hand, [one, { ...fresh, html: 'Between, and on' }, two]);
  await page.flush();
  expect([page.state, page.problem]).toEqual(['kept', '']);
  expect(page.hand).toBe(hand);
  expect(hand.brought!.map((x) => x.html)).toEqual(['One', 'Between, and on', 'Two by them']);
  const last = calls.at(-1)!.body!.act as { blocks: { part: string; html: string }[] };
  expect(last.blocks.map((x) => [x.part, x.html])).toEqual([
    ['words-1', 'One'],
    ['words-2', 'Between, and on'],
    ['words-3', 'Two by them'],
  ]);
});

it('sends what somebody decided while something else of the run was on its way', async () => {
  const of = (...said: string[]) => said.map((edit, i) => ({ id: `words-${i + 1}`, edit, text: edit, shared: '' }));
  const runs = [{ blocks: ['words-1', 'words-2'].map((part) => ({ part, form: 'p', name: '' })) }];
  const seen = (draft: string, ...said: string[]) => Promise.resolve({ ...bench(draft, of(...said)), runs });
  answers = [() => seen('one', 'Boats at nine', 'Two')];
  const page = new BenchPage(201, 7, vi.fn(), () => {});
  await page.load();
  page.take('words-1');
  const hand = page.hand!;
  const type = (...html: string[]) =>
    page.typeRun(
      hand,
      hand.now.map((b, i) => ({ ...b, html: html[i]! })),
    );
  type('Boats at ten', 'Two');
  answers = [() => Promise.reject(new Refusal(409, 'changed')), () => seen('two', 'Boats at six', 'Two')];
  await page.flush();
  expect(page.state).toBe('undecided');
  type('Boats at ten', 'Two, on');
  let arrives: (b: unknown) => void = () => {};
  const kept = (draft: string) => ({ ...bench(draft, [], false), keys: hand.parts });
  answers = [() => new Promise((then) => (arrives = then)), () => Promise.resolve(kept('four'))];
  const sent = page.flush();
  await vi.advanceTimersByTimeAsync(1);
  type('Boats at ten', 'Two, on and on');
  expect(page.unsent.undecided).toHaveLength(1);
  type('Boats at ten', 'Two, on');
  page.unsent.undecided[0]!.decide(true);
  expect(page.unsent.undecided).toEqual([]);
  arrives({ ...bench('three', of('Boats at six', 'Two, on')), runs, keys: hand.parts });
  await sent;
  await page.flush();
  const posts = calls.filter((c) => c.method === 'POST').map((c) => c.body!.act as { blocks: Block[] });
  expect(posts.slice(1).map((a) => a.blocks.map((b) => b.html))).toEqual([
    ['Boats at six', 'Two, on'],
    ['Boats at ten', 'Two, on'],
  ]);
  expect([page.state, stored.size]).toEqual(['kept', 0]);
});
