import { expect, it } from 'vitest';
import type { Block } from '../../parts/words/blocks';
import {
  arrivedAs,
  broughtOnto,
  decided,
  differs,
  type From,
  likeness,
  rebased,
  settled,
  type Standing,
  theirsIn,
} from './rebased';

const p = (key: string, html: string, form: Block['form'] = 'p'): Block => ({ key, form, html });
const on = (...words: string[]): Standing =>
  words.map((html, i) => ({ part: `words-${i + 1}`, form: 'p', html, name: '' }));
const from = (...words: string[]): From => ({
  draft: 'one',
  base: words.map((html, i) => ({ ...p('abcdefgh'[i]!, html), has: html })),
  parts: Object.fromEntries(words.map((_, i) => ['abcdefgh'[i]!, `words-${i + 1}`])),
});
let n = 0;
const fresh = () => `new-${n++}`;
const said = (blocks: Block[]) => blocks.map((b) => b.html);
const onto = (mine: Block[], was: From, now: Standing) => rebased(mine, was, now, 'two', fresh);

it.each([
  [
    'other words of one block',
    ['INES. Boats sail.'],
    ['Boats sail.'],
    ['Boats sail. TOBIAS.'],
    ['INES. Boats sail. TOBIAS.'],
  ],
  ['other blocks', ['One here', 'Two'], ['One', 'Two'], ['One', 'Two there'], ['One here', 'Two there']],
  ['a block put in before', ['One here'], ['One'], ['Nought', 'One'], ['Nought', 'One here']],
  [
    'a block put in before one that they changed',
    ['One two three'],
    ['One two three'],
    ['New', 'One two 3'],
    ['New', 'One two 3'],
  ],
  ['a block that they took out', ['One', 'Two'], ['One', 'Two'], ['Two'], ['Two']],
  ['a block that they took out, typed in here', ['One here', 'Two'], ['One', 'Two'], ['Two'], ['One here', 'Two']],
  ['the same', ['One, now'], ['One'], ['One, now'], ['One, now']],
])('brings what is typed onto %s', (_, mine, was, now, made) => {
  expect(
    said(
      onto(
        mine.map((w, i) => p('abcdefgh'[i]!, w)),
        from(...was),
        on(...now),
      ).blocks,
    ),
  ).toEqual(made);
});

it('knows the parts of the blocks on the page as it is, and what of them is to be kept', () => {
  const { blocks, from: now } = onto(
    [p('a', 'One here'), p('x', 'Mine')],
    from('One', 'Two'),
    on('Nought', 'One', 'Two'),
  );
  expect(blocks.map((b) => [b.html, now.parts[b.key]])).toEqual([
    ['Nought', 'words-1'],
    ['One here', 'words-2'],
    ['Mine', undefined],
  ]);
  expect([now.draft, differs(blocks, now)]).toEqual(['two', true]); // Two was taken out here
  expect(differs(now.base, now)).toBe(false);
});

it('brings a block back that was taken out here, where others typed in it', () => {
  expect(said(onto([p('a', 'One')], from('One', 'Two'), on('One', 'Two there')).blocks)).toEqual(['One', 'Two there']);
});

it('follows a block that others moved, with what was typed in it', () => {
  const { blocks, from: now } = onto([p('a', 'One here'), p('b', 'Two')], from('One', 'Two'), on('Two', 'One'));
  expect(said(blocks).toSorted()).toEqual(['One here', 'Two']);
  expect(now.parts[blocks.find((b) => b.html === 'One here')!.key]).toBe('words-2');
});

it('takes another form from whoever gave it', () => {
  const now = on('Fares').map((r) => ({ ...r, form: 'h2' as const }));
  expect(onto([p('a', 'All fares')], from('Fares'), now).blocks[0]).toMatchObject({ form: 'h2', html: 'All fares' });
  expect(onto([p('a', 'Fares', 'h3')], from('Fares'), on('All fares')).blocks[0]).toMatchObject({
    form: 'h3',
    html: 'All fares',
  });
});

it('keeps two wordings of the same words apart until one is decided for, also while others go on', () => {
  const one = onto(
    [p('a', 'Boats at ten'), p('b', 'Two here')],
    from('Boats at nine', 'Two'),
    on('Boats at six', 'Two'),
  );
  expect(said(one.blocks)).toEqual(['Boats at ten', 'Two here']);
  expect(said(decided(one.blocks, one.from))).toEqual(['Boats at six', 'Two here']);
  const two = onto(one.blocks, one.from, on('Boats at seven', 'Two'));
  expect(two.from.clash!.a!.html).toBe('Boats at seven');
  const mine = settled(two.from, 'a');
  expect([said(decided(two.blocks, mine)), mine.clash]).toEqual([['Boats at ten', 'Two here'], undefined]);
  expect(onto(two.blocks, two.from, on('Boats at ten', 'Two')).from.clash).toBeUndefined(); // they agree
});

it('goes on from what was sent and is known to have arrived', () => {
  const was = arrivedAs([p('a', 'One INES.'), p('x', 'Between')], from('One'));
  const { blocks, from: now } = onto(
    [p('a', 'One INES. Oakley.'), p('x', 'Between, on')],
    was,
    on('Now One INES.', 'Between'),
  );
  expect([said(blocks), now.clash]).toEqual([['Now One INES. Oakley.', 'Between, on'], undefined]);
});

it('keeps what others made of a block that was taken out while somebody has to decide', () => {
  const { blocks, from: now } = onto([p('a', 'One here'), p('b', 'Two')], from('One', 'Two'), on('One there', 'Two'));
  const without = blocks.filter((b) => b.key !== 'a');
  expect([said(decided(without, now)), differs(without, now)]).toEqual([['One there', 'Two'], false]);
  const later = onto(without, now, on('One there, on', 'Two, on'));
  expect([said(later.blocks), later.from.clash!.a!.html]).toEqual([['Two, on'], 'One there, on']);
  expect(said(theirsIn(later.blocks, later.from, 'a'))).toEqual(['One there, on', 'Two, on']);
  expect(said(decided(later.blocks, settled(later.from, 'a')))).toEqual(['Two, on']); // it is taken out
});

it('does not put addresses together of two', () => {
  const was = { was: '/a/b', has: '/a/b' };
  expect(broughtOnto('/x/b', was, '/a/y', false)).toEqual({
    mine: '/x/b',
    from: { was: '/a/y', has: '/a/y', theirs: '/a/y' },
  });
  expect(broughtOnto('/x/b', was, '/a/b', false)).toEqual({ mine: '/x/b', from: was });
  expect(broughtOnto('/a/b', was, '/a/y', false).mine).toBe('/a/y');
});

// Dice's coefficient of the words, 2 |A and B| / (|A| + |B|): Dice, Measures of the amount of ecologic association between
// species, Ecology 26 (1945), by hand.
it.each([
  ['one two three', 'one two four', 4 / 6],
  ['one one two', 'one two two', 4 / 6],
  ['<b>one</b> two', 'two', 2 / 3],
  ['one', 'two', 0],
  ['', '', 1],
])('measures how alike %s and %s are', (a, b, d) => expect(likeness(a, b)).toBeCloseTo(d, 9));

// Two people each do random things to the same run. Whatever they do, each word that one of them wrote stands in what the
// other one goes on with, or in what is kept apart; and nobody's words come twice.
it('loses and doubles no word of two people, whatever they do', () => {
  let seed = 1;
  const random = (most: number) => (seed = (seed * 48271) % 2147483647) % most; // Park and Miller's generator
  for (let round = 0; round < 600; round++) {
    let word = 0;
    const base = Array.from({ length: 1 + random(4) }, () =>
      Array.from({ length: 1 + random(5) }, () => `w${word++}`).join(' '),
    );
    const typed = { mine: [] as string[], theirs: [] as string[] };
    const act = (blocks: string[], who: 'mine' | 'theirs') => {
      const i = random(blocks.length);
      const new_ = `${who}${word++}`;
      const words = (blocks[i] ?? '').split(' ');
      typed[who].push(new_);
      if (random(4) === 0) blocks.splice(i + 1, 0, new_);
      else {
        words.splice(random(words.length + 1), random(3) === 0 ? 1 : 0, new_);
        blocks[i] = words.join(' ');
      }
    };
    const was = from(...base);
    const [mine, theirs] = [base.map((w, i) => p('abcdefgh'[i]!, w)), [...base]];
    for (let k = random(3); k > 0; k--) {
      const words = said(mine) as string[];
      const had = words.length;
      act(words, 'mine');
      if (words.length > had) {
        const at = words.findIndex((w, i) => w !== mine[i]?.html);
        mine.splice(at, 0, p(`x${word}`, words[at]!));
      } else words.forEach((w, i) => (mine[i] = { ...mine[i]!, html: w }));
    }
    for (let k = random(3); k > 0; k--) act(theirs, 'theirs');
    const { blocks, from: now } = onto(mine, was, on(...theirs));
    const all = said(blocks).join(' ').split(' ');
    const apart = Object.values(now.clash ?? {})
      .map((b) => b.html)
      .join(' ')
      .split(' ');
    for (const w of said(mine)
      .join(' ')
      .split(' ')
      .filter((w) => w.startsWith('mine')))
      expect(
        all.filter((x) => x === w),
        `${w} of ${JSON.stringify([base, said(mine), theirs])}`,
      ).toHaveLength(1);
    for (const w of theirs
      .join(' ')
      .split(' ')
      .filter((w) => w.startsWith('theirs')))
      expect(
        all.filter((x) => x === w).length + (all.includes(w) ? 0 : apart.filter((x) => x === w).length),
        `${w} of ${JSON.stringify([base, said(mine), theirs])}`,
      ).toBe(1);
  }
});
