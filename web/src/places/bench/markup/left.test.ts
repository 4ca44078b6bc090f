import { beforeEach, expect, it } from 'vitest';
import { leave, leftOf } from './left';

const kept = new Map<string, string>();
beforeEach(() => {
  kept.clear();
  globalThis.localStorage = {
    getItem: (k: string) => kept.get(k) ?? null,
    setItem: (k: string, v: string) => void kept.set(k, v),
    removeItem: (k: string) => void kept.delete(k),
  } as Storage;
});

it('keeps what was written on this machine, by request, page and part, until it is as it was', () => {
  leave(1, 2, 'section-3', { was: '<p>', now: '<p>a' });
  expect(leftOf(1, 2, 'section-3')).toEqual({ was: '<p>', now: '<p>a' });
  expect(leftOf(1, 3, 'section-3')).toBeUndefined();
  leave(1, 2, 'section-3', { was: '<p>', now: '<p>' });
  expect(leftOf(1, 2, 'section-3')).toBeUndefined();
  expect(kept.size).toBe(0);
});

it('takes nothing that something else wrote', () => {
  for (const v of ['x', '{}', 'null', '{"was":1,"now":"a"}']) {
    kept.set('mendry markup 1 2 p', v);
    expect(leftOf(1, 2, 'p')).toBeUndefined();
  }
});
