import type { Schemas } from '../../api/client';

/** One item of a list, with the file that it is about; n counts through the whole list, from 1. */
export type Row = { n: number; step: Schemas['ReleaseStep']; item: Schemas['HandItem'] };

export const rowsOf = (r: Schemas['Release']): Row[] =>
  r.steps.flatMap((step) => step.items.map((item) => ({ step, item }))).map((row, i) => ({ n: i + 1, ...row }));

/** Seen to be there, or right as it stands by somebody's word. */
export const settled = (i: Schemas['HandItem']) => i.seen === 'right' || i.taken;

/** What is copied of an item, in the order in which it is. */
export const copies = (r: Row): string[] => {
  const all = r.item.act === 'take out' || r.item.act === 'move' ? [] : r.item.values.map((v) => v.after);
  return [...all, r.item.markup].filter((s) => s !== '');
};
