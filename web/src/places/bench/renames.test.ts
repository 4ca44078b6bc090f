import { expect, it } from 'vitest';
import { renames } from './renames';

const page = (...said: string[]) =>
  said.map((s, i) => {
    const [kind, edit = ''] = s.split(': ');
    return { id: `${kind}-${i + 1}`, kind: kind as 'words', edit, text: edit };
  });

it('keeps the names before a change, and finds those behind it', () => {
  const was = page('section', 'words: One', 'words: Two', 'section', 'words: One');
  const now = page('section', 'words: One', 'words: New', 'words: Two', 'section', 'words: One');
  const to = renames(was, now);
  expect(was.map((p) => to(p.id))).toEqual(['section-1', 'words-2', 'words-4', 'section-5', 'words-6']);
});

it('finds what was moved, and nothing for what is gone', () => {
  const was = page('words: One', 'words: Two', 'words: Three', 'words: Four');
  const to = renames(was, page('words: Three', 'words: One', 'words: Four'));
  expect(was.map((p) => to(p.id))).toEqual(['words-2', undefined, 'words-1', 'words-3']);
});

it('knows a part that was reworded where nothing came or went', () => {
  const was = page('words: One', 'words: Two', 'words: Three');
  const to = renames(was, page('words: One', 'words: Two, typed', 'words: Three'));
  expect(to('words-2')).toBe('words-2');
});
