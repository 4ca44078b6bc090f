import { expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { alike, inWords } from './alike';

const change = (id: number, runs: string[], more = {}) => ({
  id,
  kind: 'words' as const,
  words: runs.map((r): Schemas['Run'] => ({
    is: r.startsWith('-') ? 'gone' : r.startsWith('+') ? 'new' : 'same',
    text: r.slice(1),
  })),
  say: '',
  before_words: '',
  after_words: '',
  part_name: `part ${id}`,
  ...more,
});

it('puts changes together that replace the same words, whatever stands around them', () => {
  const all = [
    change(1, [' Write to us about Alder within ', '-two days', '+one day']),
    change(2, [' Fares from ', '-£6', '+£7']),
    change(3, [' Write to us about Birch within ', '-two days', '+one day']),
  ];
  expect(alike(all).map((g) => g.map((c) => c.id))).toEqual([[1, 3], [2]]);
});

it('tells changes apart that show in no word', () => {
  const link = { say: '“Grading” now leads to /prices/' };
  const all = [change(1, [' Grading'], link), change(2, [' Grading'], { say: 'bold' }), change(3, [' Grading'], link)];
  expect(alike(all).map((g) => g.map((c) => c.id))).toEqual([[1, 3], [2]]);
  expect(inWords(all[0]!)).toBe(false);
});

it('never puts two pictures together', () => {
  const picture = { kind: 'picture' as const, say: 'swapped' };
  expect(alike([change(1, [], picture), change(2, [], picture)])).toHaveLength(2);
});
