import { expect, it, vi } from 'vitest';
import { Told } from './told';

it('waits for the answer to its own question, and not for ever', async () => {
  vi.useFakeTimers();
  const told = new Told();
  const done: string[] = [];
  let [first, second] = [0, 0];
  void told.ask((n) => (first = n)).then(() => done.push('first'));
  void told.ask((n) => (second = n)).then(() => done.push('second'));
  told.heard(99); // nobody asked for it
  told.heard(second);
  told.heard(second);
  await vi.advanceTimersByTimeAsync(0);
  expect(done).toEqual(['second']);
  expect(first).not.toBe(second);
  await vi.advanceTimersByTimeAsync(2000); // a page that hangs
  expect(done).toEqual(['second', 'first']);
  let third = 0;
  await told.ask((n) => (third = n)); // and is not waited for again
  told.heard(third);
  void told.ask(() => {}).then(() => done.push('it answers again'));
  await vi.advanceTimersByTimeAsync(1000);
  expect(done).toHaveLength(2);
  await vi.advanceTimersByTimeAsync(1000);
  expect(done).toHaveLength(3);
  vi.useRealTimers();
});
