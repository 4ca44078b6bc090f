import { beforeEach, expect, it, vi } from 'vitest';

// The server, as far as the bench speaks to it: each call is answered by what `answers` holds next.
const calls: { method: string; body?: { act: unknown; draft: string } }[] = [];
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
  const call = (method: string) => (_: string, o: { body?: never }) => {
    calls.push({ method, body: o.body });
    return (answers.shift() ?? (() => Promise.resolve(bench('after'))))();
  };
  return {
    Refusal,
    answer: <T>(p: Promise<T>) => p,
    api: { GET: call('GET'), POST: call('POST'), DELETE: call('DELETE') },
    words: (e: Error) => e.message,
  };
});
vi.mock('../../api/session.svelte', () => ({ refresh: () => {} }));

type Listed = { id: string; text: string; shared: string };
const bench = (draft: string, parts: Listed[] = [], whole = true) => ({
  draft,
  live_url: 'live',
  draft_url: 'draft',
  parts,
  whole,
  changes: [],
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

beforeEach(() => {
  vi.useFakeTimers();
  stored.clear();
  calls.length = 0;
  answers = [];
});

it('keeps what was typed last in a part, once', async () => {
  const { page } = await open();
  for (const html of ['M', 'Mi', 'Mind']) page.type({ do: 'markup', part: 'words-1', html });
  page.type({ do: 'markup', part: 'words-2', html: 'the gap' });
  page.type({ do: 'attribute', part: 'words-1', name: 'title', words: 'x' });
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
  page.type({ do: 'markup', part: 'words-1', html: 'Mind the gap' });
  await page.flush();
  expect(page.state).toBe('unsent');
  expect([...stored.values()][0]).toContain('Mind the gap');
  answers = [];
  const again = await open(); // the page was loaded again
  expect(again.redrawn).toHaveBeenCalled();
  expect(stored.size).toBe(0);
});

it('tries again by itself', async () => {
  const { page } = await open();
  answers = [() => Promise.reject(new Refusal(503, 'busy'))];
  page.type({ do: 'fact', name: 'title', words: 'Fares' });
  await page.flush();
  await vi.advanceTimersByTimeAsync(2100);
  expect(calls.filter((c) => c.method === 'POST')).toHaveLength(2);
  expect(page.state).toBe('kept');
});

it('goes on with the next one after a refusal', async () => {
  const { page } = await open();
  answers = [() => Promise.reject(new Refusal(422, 'It is locked.'))];
  page.type({ do: 'markup', part: 'words-1', html: 'a' });
  page.type({ do: 'markup', part: 'words-2', html: 'b' });
  await page.flush();
  expect(calls).toHaveLength(2);
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
  const [a, b] = hand.first.map((x) => x.key);
  answers = [1, 2].map(() => () => Promise.resolve({ ...bench('two', [], false), runs: [], keys: hand.parts }));
  hand.at = a;
  page.typeRun(hand, [{ ...hand.first[0]!, html: '' }, hand.first[1]!]);
  await page.flush();
  page.left(hand, a!);
  expect(hand.emptied(null)).toBe(true); // also when the cursor leaves the run
  page.left(hand, b!);
  await page.flush();
  const html = calls.map((c) => (c.body!.act as { blocks: { html: string }[] }).blocks.map((x) => x.html));
  expect(html).toEqual([
    ['One', 'Two'],
    ['', 'Two'],
  ]);
});

it('goes on in the same editor when an answer was lost, and tells it what others did meanwhile', async () => {
  const of = (...said: string[]) => {
    const parts = said.map((edit, i) => ({ id: `words-${i + 1}`, edit, text: edit, shared: '' }));
    return { parts, runs: [{ blocks: parts.map((p) => ({ part: p.id, form: 'p', name: '' })) }] };
  };
  const first = of('One', 'Two');
  answers = [() => Promise.resolve({ ...bench('one', first.parts), runs: first.runs })];
  const page = new BenchPage(
    201,
    7,
    () => {},
    () => {},
  );
  await page.load();
  page.take('words-1');
  const hand = page.hand!;
  const [a, b] = hand.first.map((x) => x.key) as [string, string];
  const fresh = { key: 'new', form: 'p' as const, html: 'Between' };
  const seen = of('One', 'Between', 'Two by them'); // what was sent had arrived, and somebody reworded the last
  let goOn: () => void = () => {};
  answers = [
    () => Promise.reject(new Refusal(409, 'changed')),
    () => Promise.resolve({ ...bench('two', seen.parts), runs: seen.runs }),
    () =>
      new Promise(
        (ok) =>
          (goOn = () =>
            ok({ ...bench('two', [], false), runs: [], keys: { [a]: 'words-1', new: 'words-2', [b]: 'words-3' } })),
      ),
    () =>
      Promise.resolve({
        ...bench('three', [], false),
        runs: [],
        keys: { [a]: 'words-1', new: 'words-2', [b]: 'words-3' },
      }),
  ];
  page.typeRun(hand, [hand.first[0]!, fresh, hand.first[1]!]);
  const kept = page.flush();
  await vi.waitFor(() => expect(calls.filter((c) => c.method === 'POST')).toHaveLength(2));
  page.typeRun(hand, [hand.first[0]!, { ...fresh, html: 'Between, and on' }, hand.first[1]!]);
  goOn();
  await kept;
  await page.flush();
  expect(page.hand).toBe(hand);
  expect(hand.theirs.map((t) => t.block.html)).toEqual(['Two by them']);
  const last = calls.at(-1)!.body!.act as { blocks: { part: string; html: string }[] };
  expect(last.blocks.map((x) => [x.part, x.html])).toEqual([
    ['words-1', 'One'],
    ['words-2', 'Between, and on'],
    ['words-3', 'Two by them'],
  ]);
});
