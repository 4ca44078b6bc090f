import { diff3Merge } from 'node-diff3';

/** Markup as the signs that a person changes as one: tags, entities, words, white space, and each other sign by itself. */
const signs = (html: string) => html.match(/<[^>]*>|&#?\w+;|\s+|[\p{L}\p{M}\p{N}]+|[^]/gu) ?? [];

/** Whether each tag that opens is closed, in order. */
function nested(all: string[]): boolean {
  const open: string[] = [];
  for (const s of all) {
    const [, close, name, alone] = /^<(\/?)([a-z][\w-]*)[^>]*?(\/?)>$/i.exec(s) ?? [];
    if (!name || alone || /^(br|img|wbr|hr)$/i.test(name)) continue;
    if (!close) open.push(name);
    else if (open.pop() !== name) return false;
  }
  return !open.length;
}

/**
 * What two made of the same words, where they touched other ones of them; undefined where they touched the same or
 * neighbouring ones: then a person decides.
 */
export function merged(was: string, mine: string, theirs: string): string | undefined {
  const all: string[] = [];
  for (const { ok } of diff3Merge(signs(mine), signs(was), signs(theirs), { excludeFalseConflicts: true })) {
    if (!ok) return undefined;
    all.push(...ok);
  }
  return nested(all) ? all.join('') : undefined;
}
