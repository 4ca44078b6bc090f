import { expect, it, vi } from 'vitest';

vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => {} });
const { keys, press, switchKeys } = await import('./keys.svelte');

it('a letter acts in either case, once, unless letters are switched off', () => {
  const u = vi.fn();
  expect(press({ u }, 'U', true, false)).toBe(true);
  expect(press({ u }, 'u', true, true)).toBe(false); // held down
  expect(press({ u }, 'x', true, false)).toBe(false);
  expect(u).toHaveBeenCalledTimes(1);
  switchKeys(false);
  expect(keys.on).toBe(false);
  expect(press({ u }, 'u', true, false)).toBe(false);
  expect(u).toHaveBeenCalledTimes(1);
});
