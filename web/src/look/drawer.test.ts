import { expect, it } from 'vitest';
import { drawerIn } from './drawer';

const room = 20; // signs
const cramped = () => {
  const held = new Map<string, string>();
  return {
    getItem: (name: string) => held.get(name) ?? null,
    setItem: (name: string, what: string) => {
      if (what.length > room) throw new DOMException('no room', 'QuotaExceededError');
      held.set(name, what);
    },
    removeItem: (name: string) => void held.delete(name),
  } as unknown as Storage;
};

it('keeps what the browser has room for beyond the page, and the rest as long as that is open', () => {
  const storage = cramped();
  const page = drawerIn(() => storage);
  expect(page.put('a', 'short')).toBe(true);
  const long = 'long '.repeat(9);
  expect(page.put('a', long)).toBe(false);
  expect(page.get('a')).toBe(long);
  expect(drawerIn(() => storage).get('a')).toBeUndefined(); // not what it was before
  expect(page.put('a', 'short again')).toBe(true);
  expect(page.get('a')).toBe('short again');
  page.drop('a');
  expect(page.get('a')).toBeUndefined();
});

it('keeps all as long as the page is open where nothing may be kept', () => {
  const page = drawerIn(() => {
    throw new DOMException('not here', 'SecurityError');
  });
  expect(page.get('a')).toBeUndefined();
  expect(page.put('a', 'words')).toBe(false);
  expect(page.get('a')).toBe('words');
  page.drop('a');
  expect(page.get('a')).toBeUndefined();
});
