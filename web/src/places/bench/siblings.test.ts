import { expect, it } from 'vitest';
import { siblings } from './siblings';

const part = (id: string, before?: string, after?: string) => ({
  id,
  fits: [
    ...(before ? [{ anchor: before, where: 'before' as const }] : []),
    ...(after ? [{ anchor: after, where: 'after' as const }] : []),
  ],
});

it('finds the parts that stand in a row with one, wherever it stands', () => {
  const parts = [part('a', undefined, 'b'), part('b', 'a', 'c'), part('c', 'b'), part('x')];
  for (const p of parts.slice(0, 3)) expect(siblings(parts, p).map((s) => s.id)).toEqual(['a', 'b', 'c']);
  expect(siblings(parts, parts[3]!).map((s) => s.id)).toEqual(['x']);
});

it('ends where parts name each other in a ring', () => {
  const parts = [part('a', 'b', 'b'), part('b', 'a', 'a')];
  expect(siblings(parts, parts[0]!)).toHaveLength(2);
});
