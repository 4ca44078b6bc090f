import type { Schemas } from '../../api/client';

type Bench = Schemas['Bench'];

/**
 * Whether a part is a link among the other words of a block: who points at it means to write there, in the block. One that
 * dials or writes is taken up alone: its number or address is changed as a whole.
 */
export function isWithin(bench: Bench | undefined, link: string, block: string): boolean {
  const part = (id: string) => bench?.parts.find((p) => p.id === id);
  const [it, around] = [part(link), part(block)];
  if (
    it?.kind !== 'link' ||
    /^(tel|sms|mailto):/i.test(it.href ?? '') ||
    !around ||
    around.text.trim() === it.text.trim()
  )
    return false;
  return !!bench?.runs.some((r) => r.blocks.some((b) => b.form && b.part === block));
}

/** The link of a block that leads somewhere and says something; the first that leads there where what it says was just typed. */
export function linkIn(bench: Bench, block: string, href: string, says: string): Schemas['Part'] | undefined {
  const all = bench.parts.filter((p) => p.kind === 'link' && p.parent === block && p.href === href);
  return all.find((p) => p.text.trim() === says.trim()) ?? all[0];
}
