import { expect, it, vi } from 'vitest';

vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => {} });
const { hushed, keys, press, switchKeys, wordsHere } = await import('./keys.svelte');

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

it('no letter acts while an act is under way, nor within a second of typing', async () => {
  vi.useFakeTimers({ toFake: ['performance'] });
  switchKeys(true);
  const u = vi.fn();
  let done = () => {};
  const doing = hushed(new Promise<void>((then) => (done = then)));
  expect(press({ u }, 'u', true, false)).toBe(false);
  done();
  await doing;
  vi.advanceTimersByTime(900);
  expect(press({ u }, 'u', true, false)).toBe(false); // a word that went astray goes on
  vi.advanceTimersByTime(900);
  expect(press({ u }, 'u', true, false)).toBe(false);
  expect(press({ u }, 'u', true, false, true)).toBe(true); // a chord is meant
  vi.advanceTimersByTime(1001);
  expect(press({ u }, 'u', true, false)).toBe(true);
  vi.useRealTimers();
});

it('of a sentence that is typed where nothing takes words one letter acts, and that is said once', async () => {
  const leave = wordsHere();
  vi.useFakeTimers({ toFake: ['performance'] });
  vi.advanceTimersByTime(5000);
  const { toaster } = await import('./toast');
  const said = vi.spyOn(toaster, 'error').mockImplementation(() => '');
  const act = vi.fn();
  const acts = Object.fromEntries([...'abcdefghijklmnopqrstuvwxyz'].map((l) => [l, act]));
  for (const letter of 'Boats sail at ten') {
    press(acts, letter, true, false);
    vi.advanceTimersByTime(150);
  }
  expect([act.mock.calls.length, said.mock.calls.length]).toEqual([1, 1]);
  vi.advanceTimersByTime(1001);
  for (const letter of 'nnn') expect(press(acts, letter, true, false)).toBe(true); // the same one, again and again
  leave();
  vi.advanceTimersByTime(1001);
  for (const letter of 'cn') expect(press(acts, letter, true, false)).toBe(true); // where no words are typed
  for (const e of [new Event('keydown'), new Event('keydown')]) {
    for (const other of [{}, acts]) press(other, 'x', true, false, false, e); // one after the other asks for the same key
    vi.advanceTimersByTime(100);
  }
  expect(act).toHaveBeenCalledTimes(8);
  vi.useRealTimers();
});
