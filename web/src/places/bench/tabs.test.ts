import { expect, it, vi } from 'vitest';

// Locks as a browser has them (Web Locks, 4.1), as far as tabs use them: asked for if free, waited for, stolen.
type Hold = (lock: object | null) => unknown;
const held = new Map<string, { done: Promise<unknown>; lose: (e: Error) => void }>();
const queue = new Map<string, (() => void)[]>();
function request(name: string, o: { ifAvailable?: boolean; steal?: boolean } | Hold, f?: Hold): Promise<unknown> {
  const hold = (f ?? o) as Hold;
  const how = f ? (o as { ifAvailable?: boolean; steal?: boolean }) : {};
  if (held.has(name) && how.ifAvailable) return Promise.resolve(hold(null));
  if (held.has(name) && how.steal) {
    held.get(name)!.lose(new DOMException('stolen', 'AbortError'));
    held.delete(name);
  }
  return new Promise((then, lose) => {
    const begin = () => {
      const done = Promise.resolve(hold({}));
      const own = { done, lose };
      held.set(name, own);
      void done.then((v) => {
        if (held.get(name) !== own) return;
        held.delete(name);
        then(v);
        queue.get(name)?.shift()?.();
      });
    };
    if (held.has(name)) queue.set(name, [...(queue.get(name) ?? []), begin]);
    else begin();
  });
}
const ears = new Set<{ onmessage?: () => void }>();
vi.stubGlobal('navigator', { locks: { request } });
vi.stubGlobal(
  'BroadcastChannel',
  class {
    onmessage?: () => void;
    constructor() {
      ears.add(this);
    }
    postMessage() {
      for (const e of ears) if (e !== this) e.onmessage?.();
    }
    close() {
      ears.delete(this);
    }
  },
);
const { Tab } = await import('./tabs');
const soon = () => new Promise((then) => setTimeout(then));

it('one tab writes and tells, the other follows until it takes the turn or the first is closed', async () => {
  const said: string[] = [];
  const tab = (who: string) =>
    new Tab(
      'page',
      (writes) => said.push(`${who} ${writes ? 'writes' : 'follows'}`),
      () => said.push(`${who} hears`),
    );
  const [a, b] = [tab('a'), tab('b')];
  a.open();
  b.open();
  await soon();
  expect(said.splice(0)).toEqual(['a writes', 'b follows']);
  a.tell();
  expect(said.splice(0)).toEqual(['b hears']);
  b.take();
  await soon();
  expect(said.splice(0).sort()).toEqual(['a follows', 'b writes']);
  b.close();
  await soon();
  expect(said.splice(0)).toEqual(['a writes']);
  a.close();
});

it('the next in turn writes when the first is closed', async () => {
  const said: string[] = [];
  const tab = (who: string) =>
    new Tab(
      'other',
      (writes) => said.push(`${who} ${writes}`),
      () => {},
    );
  const [a, b] = [tab('a'), tab('b')];
  a.open();
  await soon();
  b.open();
  await soon();
  a.close();
  await soon();
  expect(said).toEqual(['a true', 'b false', 'b true']);
  b.close();
});

it('writes where the browser gives no locks', async () => {
  const refused = vi.fn(() => Promise.reject(new DOMException('not here', 'SecurityError')));
  vi.stubGlobal('navigator', { locks: { request: refused } });
  const said: boolean[] = [];
  const alone = new Tab(
    'page',
    (writes) => said.push(writes),
    () => {},
  );
  alone.open();
  await soon();
  await soon();
  expect([said, refused.mock.calls.length]).toEqual([[], 1]);
  alone.close();
});
