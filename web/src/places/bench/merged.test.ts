import { expect, it } from 'vitest';
import { merged } from './merged';

it('merges what two made of the same words where it does not touch', () => {
  const was = 'The <a href="/a">Alder</a> lies at the end.';
  const rowan = was.replace('Alder', 'Rowan');
  expect(merged(was, was.replace('end', 'far end'), rowan)).toBe('The <a href="/a">Rowan</a> lies at the far end.');
  expect(merged(was, rowan, was.replace('end.', 'end'))).toBe('The <a href="/a">Rowan</a> lies at the end');
  expect(merged(was, rowan, was.replace('Alder', 'Birch'))).toBeUndefined();
  expect(merged('One two', 'One and two', 'One or two')).toBeUndefined();
  expect(merged('', 'a', 'b')).toBeUndefined();
});

// What `git merge-file` (2.39.5) says with each letter on a line of its own; undefined where it finds a conflict.
it.each([
  ['aXbcdefghijklmnop', 'abcdefghijklmnoYp', 'aXbcdefghijklmnoYp'],
  ['bcdefghijklmnop', 'abcdefghijklmno', 'bcdefghijklmno'],
  ['abcdeXYhijklmnop', 'abcdefghijkmnop', 'abcdeXYhijkmnop'],
  ['abcdefghijklmnopZ', 'Wabcdefghijklmnop', 'WabcdefghijklmnopZ'],
  ['abcXYdefghijklmnop', 'abcdefgZijklmnop', 'abcXYdefgZijklmnop'],
  ['abcdefghij', 'XYcdefghijklmnop', 'XYcdefghij'],
  ['abXdefghijklmnop', 'abcdefghijkl', 'abXdefghijkl'],
  ['abcdefXghijklmnop', 'abcdefYghijklmnop', undefined],
  ['abcXYZghijklmnop', 'abcdeWWghijklmnop', undefined],
  ['', 'abcdefghijklmnopq', undefined],
])('merges %s and %s as git does', (mine, theirs, git) => {
  expect(merged('abcdefghijklmnop', mine, theirs)).toBe(git);
});
