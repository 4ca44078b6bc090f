import { afterEach, expect, it, vi } from 'vitest';
import { Ahead } from './ahead';

vi.useFakeTimers();
afterEach(() => vi.clearAllTimers());

const down = (key: string, more: Partial<KeyboardEvent> = {}) =>
  ({
    key,
    ctrlKey: false,
    shiftKey: false,
    metaKey: false,
    altKey: false,
    isComposing: false,
    getModifierState: () => false,
    ...more,
  }) as KeyboardEvent;
const typed = (a: Ahead, keys: string[]) => keys.map((k) => a.takes(down(k)));

it('holds what is typed from when a field is on its way until it is there', () => {
  const tell = vi.fn();
  const a = new Ahead(tell);
  expect(typed(a, ['m'])).toEqual([false]); // nothing is on its way
  a.comes();
  expect(typed(a, ['x', 'Backspace', 'Backspace', 'Backspace', 'm', 'é', 'Enter', 'Backspace', ' '])).not.toContain(
    false,
  );
  a.comes(); // still
  expect(a.here()).toEqual(['Backspace', 'Backspace', 'm', 'é', 'Enter', 'Backspace', ' ']);
  expect(typed(a, ['m'])).toEqual([false]);
  vi.runAllTimers();
  expect(tell).not.toHaveBeenCalled();
});

it('leaves chords and compositions alone, but takes third signs and what moves the cursor', () => {
  const a = new Ahead(vi.fn());
  a.comes();
  expect(typed(a, ['Tab', 'Shift', 'Dead', 'F5'])).not.toContain(true);
  expect(a.takes(down('c', { ctrlKey: true }))).toBe(false);
  expect(a.takes(down('v', { metaKey: true }))).toBe(false);
  expect(a.takes(down('か', { isComposing: true }))).toBe(false);
  const third = { ctrlKey: true, altKey: true, getModifierState: (k: string) => k === 'AltGraph' };
  expect(a.takes(down('@', third))).toBe(true);
  expect(typed(a, ['ArrowLeft', 'Delete'])).not.toContain(false);
  for (const more of [{ ctrlKey: true }, { ctrlKey: true, shiftKey: true }])
    expect(a.takes(down('End', more))).toBe(true);
  expect(a.takes(down('a', { ctrlKey: true }))).toBe(true);
  expect(a.takes(down('ArrowUp', { altKey: true }))).toBe(false);
  expect(a.here()).toEqual(['@', 'ArrowLeft', 'Delete', 'Ctrl+End', 'Ctrl+Shift+End', 'Ctrl+a']);
});

it('says what was typed for a field that does not come', () => {
  const tell = vi.fn();
  const a = new Ahead(tell);
  a.comes(1000);
  typed(a, ['a', 'Home', 'b', 'Enter']);
  vi.advanceTimersByTime(1001);
  expect(tell.mock.calls).toEqual([[expect.stringContaining('“ab” was typed before')]]);
  expect(a.here()).toEqual([]);
  a.comes();
  typed(a, ['c', 'Escape']);
  expect(tell.mock.lastCall![0]).toContain('“c”');
  a.comes();
  a.goes();
  expect(tell).toHaveBeenCalledTimes(2); // of nothing, nothing
});

it('holds what is typed while it is asked whether a field is on its way', () => {
  const tell = vi.fn();
  const a = new Ahead(tell);
  a.doubts();
  expect(typed(a, ['m', 'u'])).not.toContain(false);
  a.goes(); // of what was in hand before
  a.comes(); // it is
  expect(a.sure()).toBe(true);
  expect(typed(a, ['x'])).toEqual([true]);
  expect(a.here()).toEqual(['m', 'u', 'x']);
  a.doubts();
  typed(a, ['m']);
  expect(a.sure()).toBe(false); // it is not: the keys mean what they do
  expect(typed(a, ['m'])).toEqual([false]);
  expect(a.here()).toEqual([]);
  vi.runAllTimers();
  expect(tell).not.toHaveBeenCalled();
});
