import { expect, it } from 'vitest';
import { laid, noteKeys } from './laid';

const notes = (...wants: number[]) => wants.map((want, i) => ({ id: `n${i}`, want, tall: 40 }));

it('leaves notes where their parts are as long as they do not meet', () => {
  expect(laid(notes(20, 200, 400), undefined, 600)).toEqual({ n0: 20, n1: 200, n2: 400 });
});

it('covers none with another, whatever their order', () => {
  const at = laid(notes(100, 90, 110, 95), undefined, 600);
  const tops = Object.values(at).sort((a, b) => a - b);
  for (let i = 1; i < tops.length; i++) expect(tops[i]! - tops[i - 1]!).toBeGreaterThanOrEqual(40);
});

it('keeps the one in hand within the room, and the others off it', () => {
  const now = { id: 'now', want: 590, tall: 200 };
  const at = laid(notes(380, 395, 595), now, 600);
  expect(at.now).toBe(392);
  for (const [id, top] of Object.entries(at)) {
    if (id !== 'now') expect(top + 40 <= at.now! || top >= at.now! + now.tall).toBe(true);
  }
});

it('knows a note by its change, though its part gets another name', () => {
  const [, jar] = noteKeys([{ id: 'words-1' }, { id: 'words-2', change_id: 7 }]);
  const now = noteKeys([{ id: 'words-1' }, { id: 'words-2', change_id: 8 }, { id: 'words-3', change_id: 7 }]);
  expect(now.indexOf(jar!)).toBe(2);
  expect(
    new Set(
      noteKeys([
        { id: 'words-1', change_id: 7 },
        { id: 'words-2', change_id: 7 },
      ]),
    ).size,
  ).toBe(2);
});
