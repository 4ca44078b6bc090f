import { beforeEach, expect, it } from 'vitest';
import { type Act, addressed, Outbox, saying, type Slip } from './outbox';

const stored = new Map<string, string>();
const drawer = {
  get: (k: string) => stored.get(k),
  put: (k: string, v: string) => !!stored.set(k, v),
  drop: (k: string) => void stored.delete(k),
};
const box = () => {
  const b = new Outbox(drawer, 'box');
  b.open();
  return b;
};
const p = (key: string, html: string, form = 'p') => ({ key, form, html });
/** A run that says something else than it did, or than the same. */
const run = (blocks: ReturnType<typeof p>[], was = blocks.map((b) => `${b.html} once`)): Slip => ({
  act: { do: 'run', blocks } as Act,
  owner: 'r',
  from: {
    draft: 'one',
    base: was.map((html, i) => ({ ...p(blocks[i]!.key, html), form: 'p', has: html })) as never,
    parts: Object.fromEntries(was.map((_, i) => [blocks[i]!.key, `words-${i + 1}`])),
  },
});
const same = (id: string) => id;
const nobody = () => false;
const bench = (draft: string, ...texts: string[]) =>
  ({
    draft,
    parts: texts.map((edit, i) => ({ id: `words-${i + 1}`, edit })),
    runs: [{ blocks: texts.map((_, i) => ({ part: `words-${i + 1}`, form: 'p', name: '' })) }],
  }) as never;
const sent = (act: Act | undefined) =>
  (act as { blocks: { key: string; part?: string; html: string }[] }).blocks.map((b) => [b.part ?? '', b.html]);

beforeEach(() => stored.clear());

it('keeps every key on this machine, and the last wording of a thing alone', () => {
  const b = box();
  for (const html of ['M', 'Mi', 'Mind']) b.put(run([p('a', html)]));
  b.put({ act: { do: 'fact', name: 'title', words: 'Fares' } });
  expect(box().waiting.map(saying)).toEqual(['Mind', 'Fares']);
});

it('lets what is on its way be, and sends what was typed meanwhile after it', () => {
  const b = box();
  const first = run([p('a', 'Mind')]);
  b.put(first);
  expect(b.next('one')).toBe(first);
  b.put(run([p('a', 'Mind the gap'), p('new', 'nobody')], ['Mind']));
  expect(b.waiting).toHaveLength(2);
  b.settle(first);
  expect(sent(addressed(b.next('one')!))).toEqual([
    ['words-1', 'Mind the gap'],
    ['', 'nobody'],
  ]);
});

it('sets aside what is refused, until it is put away or typed anew', () => {
  const b = box();
  const s = run([p('a', 'Mind')]);
  b.put(s);
  b.next('one');
  b.refused(s);
  expect(box().aside.map(saying)).toEqual(['Mind']);
  b.put(run([p('a', 'Mind it')]));
  expect(b.aside).toEqual([]);
  b.refused(b.next('one')!);
  b.forget(b.aside[0]!);
  expect(stored.size).toBe(0);
});

it('finds its blocks again on a page that changed while it was away, and takes in what others did', () => {
  const b = box();
  b.put(run([p('a', 'One'), p('b', 'Two'), p('c', 'Three typed')], ['One', 'Two', 'Three']));
  b.onto(bench('two', 'Zero', 'One', 'Two by them', 'Put in by them', 'Three'), same, nobody);
  expect(sent(addressed(b.next('one')!))).toEqual([
    ['words-1', 'Zero'],
    ['words-2', 'One'],
    ['words-3', 'Two by them'],
    ['words-4', 'Put in by them'],
    ['words-5', 'Three typed'],
  ]);
});

it('sets aside what has no place on the page any more', () => {
  const b = box();
  b.put(run([p('a', 'One typed'), p('b', 'Two')], ['One', 'Two']));
  b.put({ act: { do: 'markup', part: 'words-9', html: 'nine' }, single: { was: 'ten', has: 'ten' } });
  b.onto(bench('two', 'Something', 'else'), same, nobody);
  expect([b.waiting, b.aside.map(saying)]).toEqual([[], ['One typed\nTwo', 'nine']]);
});

it('brings words that stand alone to their part, by the name that it has now', () => {
  const b = box();
  b.put({
    act: { do: 'markup', part: 'words-1', html: 'Boats at ten' },
    single: { was: 'Boats at nine', has: 'Boats at nine' },
  });
  b.onto(
    bench('two', 'Put in by them', 'All boats at nine'),
    (id) => (id === 'words-1' ? 'words-2' : undefined),
    nobody,
  );
  expect(b.next('one')?.act).toEqual({ do: 'markup', part: 'words-2', html: 'All boats at ten' });
});

it('does not send what others made something else of, until somebody has decided', () => {
  const b = box();
  b.put({
    act: { do: 'markup', part: 'words-1', html: 'Boats at ten' },
    single: { was: 'Boats at nine', has: 'Boats at nine' },
  });
  b.put(run([p('a', 'Two typed'), p('b', 'Three here')], ['Two', 'Three']));
  b.onto(bench('two', 'Boats at six', 'Two', 'Three there'), same, nobody);
  expect(sent(addressed(b.next('one')!))).toEqual([
    ['words-1', 'Boats at six'],
    ['words-2', 'Two typed'],
    ['words-3', 'Three there'],
  ]);
  b.waiting.splice(1, 1, run([p('a', 'Two typed'), p('b', 'Three here')], ['Two typed', 'Three there']));
  b.waiting[1]!.from!.clash = { b: p('b', 'Three there') as never };
  expect([b.next('one'), box().waiting.length]).toEqual([undefined, 2]); // and it outlives the page
});

it('waits with a run that says nothing, and sends none that says what Mendry has', () => {
  const b = box();
  b.put(run([p('a', '<br>'), p('b', '&nbsp;')]));
  expect([b.next('one'), b.waiting.length]).toEqual([undefined, 1]);
  b.put(run([p('a', ''), p('b', 'x')]));
  expect(b.next('one')).toBeDefined();
  b.put(run([p('a', 'x')], ['x']));
  b.settle(b.waiting[0]!);
  expect([b.next('one'), b.waiting]).toEqual([undefined, []]);
});

it('sends what this machine has no room for, and says that it does not last', () => {
  const b = new Outbox({ ...drawer, put: () => false }, 'box');
  b.put(run([p('a', 'Mind')]));
  expect([b.next('one')?.owner, b.lasts]).toEqual(['r', false]);
  b.settle(b.waiting[0]!);
  expect([b.waiting, b.lasts]).toEqual([[], true]);
});
