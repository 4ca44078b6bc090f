import { expect, it } from 'vitest';
import { isWithin, linkIn } from './links';

const part = (id: string, kind: string, text: string, parent = '', href = '') => ({ id, kind, text, parent, href });
const bench = {
  parts: [
    part('words-1', 'words', 'Ask at Ada and at Ada.'),
    part('link-1', 'link', 'Ada', 'words-1', '/ada'),
    part('link-2', 'link', 'Ada', 'words-1', '/other'),
    part('words-2', 'words', ' All prices '),
    part('link-3', 'link', 'All prices', 'words-2', '/prices'),
    part('cell-1', 'cell', 'Call Ada'),
    part('link-4', 'link', 'Ada', 'cell-1', '/ada'),
    part('link-5', 'link', 'at', 'words-1', 'tel:01632960110'),
  ],
  runs: [{ blocks: ['words-1', 'words-2'].map((p) => ({ part: p, form: 'p', name: '' })) }],
} as never;

it.each([
  ['a link among other words', 'link-1', 'words-1', true],
  ['one that is all the words', 'link-3', 'words-2', false],
  ['one in a block that is in no run', 'link-4', 'cell-1', false],
  ['one that dials', 'link-5', 'words-1', false],
  ['a block', 'words-1', 'words-2', false],
  ['one that is gone', 'link-9', 'words-1', false],
])('knows whether %s is written in within its block', (_, link, block, is) =>
  expect(isWithin(bench, link, block)).toBe(is),
);

it('finds the link that the cursor is in', () => {
  expect(linkIn(bench, 'words-1', '/other', 'Ada')?.id).toBe('link-2');
  expect(linkIn(bench, 'words-1', '/ada', 'Adam')?.id).toBe('link-1');
  expect(linkIn(bench, 'words-1', '/prices', 'Ada')).toBeUndefined();
});
