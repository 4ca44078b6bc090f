import type { Schemas } from '../api/client';

interface Change {
  id: number;
  kind: Schemas['ChangeKind'];
  words: Schemas['Run'][];
  say: string;
  before_words: string;
  after_words: string;
}

/** What a change does, without where: two changes that do the same are answered once. */
function does(c: Change): string {
  const changed = c.words.filter((r) => r.is !== 'same').map((r) => `${r.is} ${r.text}`);
  if (changed.length) return `${c.kind} ${changed.join('|')}`;
  // One that shows in no word is told by what is said of it; a part that is put in or taken out, by its words.
  return c.kind === 'picture' ? `picture ${c.id}` : `${c.kind} ${c.say}|${c.before_words}|${c.after_words}`;
}

/** The changes, those that do the same together, in the order of the first of each. */
export function alike<C extends Change>(changes: C[]): C[][] {
  const groups = new Map<string, C[]>();
  for (const c of changes) groups.set(does(c), [...(groups.get(does(c)) ?? []), c]);
  return [...groups.values()];
}

/** Whether a change shows in words that went or came; otherwise it is told by what is said of it. */
export const inWords = (c: Change) => c.words.some((r) => r.is !== 'same');
