import { expect, it } from 'vitest';
import { apart, merged } from './merged';

it('keeps what two made of other words of the same sentence, with its markup', () => {
  const was = 'The <a href="/a">Alder</a> lies at the end.';
  const rowan = was.replace('Alder', 'Rowan');
  expect(merged(was, was.replace('end', 'far end'), rowan)).toBe('The <a href="/a">Rowan</a> lies at the far end.');
  expect(merged(was, rowan, was.replace('end.', 'end'))).toBe('The <a href="/a">Rowan</a> lies at the end');
  expect(merged(was, was.replace('The', '<strong>The</strong>'), `${was} Today.`)).toBe(
    '<strong>The</strong> <a href="/a">Alder</a> lies at the end. Today.',
  );
  expect(merged('x&amp;y z', 'x&amp;y zz', 'x&lt;y z')).toBe('x&lt;y zz');
});

it('leaves it to a person where both changed the same words, or markup would not close any more', () => {
  const was = 'One two three four';
  expect(merged(was, was.replace('two', '2'), was.replace('two', 'zwei'))).toBeUndefined();
  expect(merged('', 'a', 'b')).toBeUndefined();
  expect(
    merged(was, '<em>One two three</em> four', was.replace('two three four', '<b>two three four</b>')),
  ).toBeUndefined();
});

// What `git merge-file` (2.39.5) says of the same words, each sign on a line of its own; undefined where it finds a conflict.
const sail = 'The boats sail at nine.';
const count = 'one two three four five';
it.each([
  [sail, 'INES. The boats sail at nine.', 'The boats sail at nine. TOBIAS.', 'INES. The boats sail at nine. TOBIAS.'],
  [sail, 'The big boats sail at nine.', 'The boats sail at ten.', 'The big boats sail at ten.'],
  [sail, 'The boats sail at ten.', 'The boats sail at eleven.', undefined],
  [sail, 'The boats sail at nine sharp.', 'The boats sail at ten.', undefined],
  [count, 'one 2 three four five', 'one two three 4 five', 'one 2 three 4 five'],
  [count, 'one three four five', 'one two three four', 'one three four'],
  [count, 'one two X three four five', 'one two Y three four five', undefined],
  [count, 'one two X three four five', 'one two X three four five', 'one two X three four five'],
  [count, 'one two three', 'one two three four five six', undefined],
  [count, 'zero one two three four five', 'one two four five six', 'zero one two four five six'],
  [count, 'five', 'one two three four and five', undefined],
  ['a b c d e f g h', 'a B c d E f g h', 'a b c D e f G h', 'a B c D E f G h'],
  ['a b c d e f g h', 'a b x c d e y f g h', 'a b c d z e f g h w', 'a b x c d z e y f g h w'],
  ['a b c', 'a b c d', 'a b c e', undefined],
  ['a b c', '', 'a b c d', undefined],
])('of %s makes of %s and %s what git does', (was, mine, theirs, git) => {
  expect(merged(was, mine, theirs)).toBe(git);
  expect(merged(was, theirs, mine)).toBe(git);
});

it('says where two wordings differ', () => {
  const said = apart('From ten people on, free.', 'From twelve people, free!');
  const own = (all: typeof said.mine) => all.filter((p) => p.own).map((p) => p.text);
  expect([own(said.mine), own(said.theirs)]).toEqual([
    ['ten', ' on', '.'],
    ['twelve', '!'],
  ]);
  expect(said.mine.map((p) => p.text).join('')).toBe('From ten people on, free.');
  expect(said.theirs.map((p) => p.text).join('')).toBe('From twelve people, free!');
  expect(apart('', '')).toEqual({ mine: [], theirs: [] });
});
