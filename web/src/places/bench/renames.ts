import type { Schemas } from '../../api/client';

type Part = Pick<Schemas['Part'], 'id' | 'kind' | 'edit' | 'text'>;

/** What a part is known by where its name cannot be relied on: its kind, and what it says. */
const sign = (p: Part) => `${p.kind} ${p.edit || (p.kind === 'picture' || p.kind === 'link' ? p.text : '')}`;

/**
 * Which names the parts of a page have after a change to it: those before and after what differs keep their order; of
 * those between, the ones that say what only one says. It is undefined for a part that is no longer there.
 */
export function renames(was: Part[], now: Part[]): (id: string) => string | undefined {
  const to = new Map<string, string>();
  let head = 0;
  const most = Math.min(was.length, now.length);
  while (head < most && sign(was[head]!) === sign(now[head]!)) to.set(was[head]!.id, now[head++]!.id);
  let tail = 0;
  while (tail < most - head && sign(was.at(-1 - tail)!) === sign(now.at(-1 - tail)!))
    to.set(was.at(-1 - tail)!.id, now.at(-1 - tail++)!.id);
  const left = now.slice(head, now.length - tail);
  for (const p of was.slice(head, was.length - tail)) {
    const same = left.filter((n) => sign(n) === sign(p));
    const own = left.find((n) => n.id === p.id && n.kind === p.kind);
    const found = same.length === 1 ? same[0] : was.length === now.length ? own : same[0];
    if (found) to.set(p.id, found.id);
  }
  return (id) => to.get(id);
}
