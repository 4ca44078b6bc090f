import { expect, it } from 'vitest';
import type { Schemas } from '../../api/client';
import { notesOf } from './notes';

const note = (change_id: number) => ({ change_id, round: 1, note: `of ${change_id}` });
const change = (id: number, page_id: number, part: string) => ({ id, page_id, part }) as Schemas['Change'];
const part = (id: string, change_id?: number) => ({ id, change_id }) as Schemas['Part'];

it('gives a note to the part that it is about, on its own page, also where that was changed again since', () => {
  const changes = [change(1, 7, 'words-1'), change(2, 8, 'words-2'), change(3, 7, '')];
  const of = (p: Schemas['Part']) => notesOf([note(1), note(2), note(3)], changes, 7, p).map((n) => n.change_id);
  expect(of(part('words-1', 1))).toEqual([1]);
  expect(of(part('words-1', 9))).toEqual([1]);
  expect(of(part('words-2', 4))).toEqual([]); // it is about another page
  expect(of(part('words-3'))).toEqual([]); // what was taken out is no part
});
