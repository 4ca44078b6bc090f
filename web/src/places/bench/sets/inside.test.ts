import { describe, expect, it } from 'vitest';
import type { Schemas } from '../../../api/client';
import { fieldsOf, openersOf, pictureIn } from './inside';

const part = (id: string, kind: string, parent: string, more: Partial<Schemas['Part']> = {}) =>
  ({ id, kind, parent, name: id, text: id, ...more }) as Schemas['Part'];
const set = { like: 'tabs', items: ['item-3', 'item-4'], one_shows: true, settings: [], title: '' };
const parts = [
  part('section-1', 'section', ''),
  part('item-1', 'item', 'section-1', { half: 'item-3' }),
  part('link-1', 'link', 'item-1'),
  part('item-2', 'item', 'section-1', { half: 'item-4' }),
  part('link-2', 'link', 'item-2'),
  part('set-1', 'set', 'section-1', { set }),
  part('item-3', 'item', 'set-1', { half: 'item-1' }),
  part('heading-1', 'heading', 'item-3'),
  part('section-2', 'section', 'item-3'),
  part('words-1', 'words', 'section-2'),
  part('link-3', 'link', 'words-1'),
  part('link-4', 'link', 'section-2', { text: '' }),
  part('picture-1', 'picture', 'link-4', { text: '', picture: {} as Schemas['PartPicture'] }),
  part('item-4', 'item', 'set-1', { half: 'item-2' }),
];
const ids = (all: Schemas['Part'][]) => all.map((p) => p.id);

describe('what stands in an item', () => {
  it('lists its fields, its tab first, and links in words', () =>
    expect(ids(fieldsOf(parts, parts[6]!))).toEqual(['link-1', 'heading-1', 'words-1', 'link-3', 'picture-1']));
  it('finds its picture', () => expect(pictureIn(parts, parts[6]!)?.id).toBe('picture-1'));
  it('finds what opens it', () => {
    expect(openersOf(parts, 'words-1')).toEqual(['item-1']);
    expect(openersOf(parts, 'link-1')).toEqual([]);
    expect(openersOf(parts, 'section-1')).toEqual([]);
  });
});
