import type { Schemas } from '../../api/client';

export interface Piece {
  text: string;
  start: number;
  wish?: Schemas['Wish'];
  index?: number;
  bad?: string;
}

/** Cuts a letter at its wishes and at the dates that cannot be. Offsets are UTF-16 units, as everywhere in a browser. */
export function pieces(letter: string, wishes: Schemas['Wish'][], dates: Schemas['LetterDate'][]): Piece[] {
  const cuts = new Set([0, letter.length]);
  for (const w of [...wishes, ...dates]) {
    cuts.add(w.start);
    cuts.add(w.end);
  }
  const at = [...cuts].sort((a, b) => a - b);
  return at.slice(0, -1).map((start, i) => {
    const end = at[i + 1]!;
    const index = wishes.findIndex((w) => w.start <= start && w.end >= end);
    const date = dates.find((d) => d.start <= start && d.end >= end);
    return {
      text: letter.slice(start, end),
      start,
      wish: wishes[index],
      index: index < 0 ? undefined : index,
      bad: date?.problem,
    };
  });
}

/** Where a selection in the letter begins and ends; every text in it carries data-start. */
export function selected(root: HTMLElement): { start: number; end: number } | undefined {
  const s = getSelection();
  if (!s || s.isCollapsed || !s.rangeCount) return undefined;
  const r = s.getRangeAt(0);
  if (!root.contains(r.commonAncestorContainer)) return undefined;
  const offset = (node: Node, off: number) => {
    const el = (node.nodeType === Node.TEXT_NODE ? node.parentElement : (node as HTMLElement)) as HTMLElement;
    const holder = el.closest<HTMLElement>('[data-start]');
    return holder ? Number(holder.dataset.start) + (node.nodeType === Node.TEXT_NODE ? off : 0) : undefined;
  };
  const start = offset(r.startContainer, r.startOffset);
  const end = offset(r.endContainer, r.endOffset);
  return start === undefined || end === undefined || end <= start ? undefined : { start, end };
}
