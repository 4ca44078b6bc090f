import { beforeEach, expect, it } from 'vitest';
import { aligned } from '../../parts/words/blocks';
import { type Act, addressed, ofOthers, Outbox, saying, type Slip, worth } from './outbox';

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
const run = (...blocks: ReturnType<typeof p>[]): Slip => ({
  act: { do: 'run', blocks } as Act,
  run: 'r',
  draft: 'one',
  parts: Object.fromEntries(blocks.map((b, i) => [b.key, `words-${i + 1}`])),
  base: Object.fromEntries(blocks.map((b) => [b.key, b.html])),
});
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
  for (const html of ['M', 'Mi', 'Mind']) b.put(run(p('a', html)));
  b.put({ act: { do: 'fact', name: 'title', words: 'Fares' } });
  expect(box().waiting.map(saying)).toEqual(['Mind', 'Fares']);
});

it('lets what is on its way be, and sends what was typed meanwhile after it, with the parts as they are then', () => {
  const b = box();
  const first = run(p('a', 'Mind'));
  b.put(first);
  expect(b.next()).toBe(first);
  b.put(run(p('a', 'Mind the gap'), p('new', 'nobody')));
  expect(b.waiting).toHaveLength(2);
  b.kept(first, { a: 'words-7' }, 'two', true);
  const then = b.next()!;
  expect(sent(addressed(then, bench('two', 'Mind')))).toEqual([
    ['words-7', 'Mind the gap'],
    ['', 'nobody'],
  ]);
});

it('sets aside what is refused, until it is put away or typed anew', () => {
  const b = box();
  const s = run(p('a', 'Mind'));
  b.put(s);
  b.next();
  b.refused(s);
  expect(box().aside.map(saying)).toEqual(['Mind']);
  b.put(run(p('a', 'Mind it')));
  expect(b.aside).toEqual([]);
  b.refused(b.next()!);
  b.forget(b.aside[0]!);
  expect(stored.size).toBe(0);
});

it('finds its blocks again on a page that changed, and takes in what others did', () => {
  const s = run(p('a', 'One'), p('b', 'Two'), p('c', 'Three'));
  (s.act as { blocks: { html: string }[] }).blocks[2]!.html = 'Three typed';
  const act = addressed(s, bench('two', 'Zero', 'One', 'Two by them', 'Put in by them', 'Three'));
  expect(sent(act)).toEqual(
    [
      ['words-1', 'Zero'],
      ['words-2', 'One'],
      ['words-3', 'Two by them'],
      ['words-5', 'Three typed'],
    ].toSpliced(3, 0, ['words-4', 'Put in by them']),
  );
  expect(s.theirs!.map((t) => [t.was, t.block.html])).toEqual([
    ['Two', 'Two by them'],
    [undefined, 'Zero'],
    [undefined, 'Put in by them'],
  ]);
});

it('takes what others did into what was typed meanwhile, so that it is not taken out again', () => {
  const b = box();
  const first = run(p('a', 'One'), p('b', 'Two'), p('c', 'Three'));
  (first.act as { blocks: { html: string }[] }).blocks[2]!.html = 'Three ty';
  b.put(first);
  const s = b.next()!;
  addressed(s, bench('two', 'One by them', 'Two', 'Put in by them', 'Three'));
  const later = run(p('a', 'One'), p('b', 'Two typed'), p('c', 'Three'));
  (later.act as { blocks: { html: string }[] }).blocks[2]!.html = 'Three typed';
  b.put(later);
  b.kept(s, { a: 'words-1', b: 'words-2', 'theirs-words-3': 'words-3', c: 'words-4' }, 'three', false);
  expect(sent(addressed(b.next()!, bench('three')))).toEqual([
    ['words-1', 'One by them'],
    ['words-2', 'Two typed'],
    ['words-3', 'Put in by them'],
    ['words-4', 'Three typed'],
  ]);
});

it('is not placed on a page that says nothing of it', () => {
  const s = run(p('a', 'One'), p('b', 'Two'));
  expect(addressed(s, bench('two', 'Something', 'else'))).toBeUndefined();
});

it('leaves out what was taken out here', () => {
  const base = { a: 'One', b: 'Two', c: 'Three' };
  const left = [p('a', 'One'), p('c', 'Three')] as never;
  const theirs = ['One', 'Two', 'Three'].map((html, i) => ({ part: `words-${i + 1}`, form: 'p', html, name: '' }));
  const parts = aligned(left, theirs);
  expect(parts).toEqual({ a: 'words-1', c: 'words-3' });
  expect(ofOthers(left, base, theirs as never, parts)).toEqual([]);
});

it('waits with a run that says nothing', () => {
  expect(worth(run(p('a', '<br>'), p('b', '&nbsp;')))).toBe(false);
  expect(worth(run(p('a', ''), p('b', 'x')))).toBe(true);
});

it('sends what this machine has no room for, and says that it does not last', () => {
  const b = new Outbox({ ...drawer, put: () => false }, 'box');
  b.put(run(p('a', 'Mind')));
  expect([b.next()?.run, b.lasts]).toEqual(['r', false]);
  b.kept(b.waiting[0]!, {}, 'two', true);
  expect([b.waiting, b.lasts]).toEqual([[], true]);
});
