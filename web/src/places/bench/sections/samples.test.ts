import { describe, expect, it } from 'vitest';
import { boxes, samples, sought } from './samples';

const section = (name: string, holds: string, address: string) => ({
  name,
  holds,
  address,
  words: `${name} and more`,
  title: 'Boats',
});

describe('sections that are sought', () => {
  const all = [
    section('The crew', 'a heading and words', '/crew/'),
    section('Fares', 'a heading and a table', '/fares.html'),
  ];
  it('answer to all of the words, wherever they stand', () => {
    expect(sought(all, '').length).toBe(2);
    expect(sought(all, 'TABLE boats').map((s) => s.name)).toEqual(['Fares']);
    expect(sought(all, 'crew table')).toEqual([]);
  });
});

describe('the sketches', () => {
  it('stay on their sheet, and no two are of one kind', () => {
    expect(new Set(samples.map((s) => s.kind)).size).toBe(samples.length);
    for (const [x, y, width, height] of samples.flatMap((s) => boxes(s.sketch))) {
      expect(x! + width!).toBeLessThanOrEqual(64);
      expect(y! + height!).toBeLessThanOrEqual(40);
    }
  });
});
