import type { Schemas } from '../../api/client';

type Change = Schemas['Change'];

/** What a change did, as short as it fits on its knot. */
export function briefly(c: Change): string {
  if (c.kind === 'words' || c.kind === 'facts') return `${c.before_words || 'nothing'} → ${c.after_words || 'nothing'}`;
  return c.say.startsWith(c.part_name) ? c.say.slice(c.part_name.length).replace(/^[:\s]+/, '') : c.say;
}

/** Where a change stands, in words. */
export const stands = (c: Change) =>
  ({
    kept: 'kept, not live',
    going: 'going out with a release',
    live: 'live',
    sure: 'live, and seen to be right',
    undone: 'taken back',
    dropped: 'dropped',
    left: 'left',
  })[c.state];

/** The changes by page: those of other pages first, in the order of their last change, those of this one at the end. */
export function byPage(changes: Change[], page: number) {
  const pages = new Map<number, Change[]>();
  for (const c of changes) {
    const had = pages.get(c.page_id) ?? [];
    pages.delete(c.page_id);
    pages.set(c.page_id, [...had, c]);
  }
  const here = pages.get(page) ?? [];
  pages.delete(page);
  return { others: [...pages.values()], here };
}

/** What is undone or taken back with a change: with one of a shared part, what it made on every page. */
export const asWhole = (c: Change) => (c.on_pages > 1 ? ` on all ${c.on_pages} pages` : '');
