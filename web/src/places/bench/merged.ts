import { diff3Merge, diffIndices } from 'node-diff3';

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

/** Some words of a wording, and whether the other one has them too. */
export interface Piece {
  text: string;
  own: boolean;
}

/** Two wordings of the same words in pieces, by where they differ. */
export function apart(mine: string, theirs: string): { mine: Piece[]; theirs: Piece[] } {
  const both = { mine: [] as Piece[], theirs: [] as Piece[] };
  const [a, b] = [signs(mine), signs(theirs)];
  const put = (to: Piece[], all: string[], own: boolean) => {
    if (all.length) to.push({ text: all.join(''), own });
  };
  let [i, j] = [0, 0];
  const end = { buffer1: [a.length, 0], buffer2: [b.length, 0] } as const;
  for (const { buffer1, buffer2 } of [...diffIndices(a, b), end]) {
    put(both.mine, a.slice(i, buffer1[0]), false);
    put(both.theirs, b.slice(j, buffer2[0]), false);
    [i, j] = [buffer1[0] + buffer1[1], buffer2[0] + buffer2[1]];
    put(both.mine, a.slice(buffer1[0], i), true);
    put(both.theirs, b.slice(buffer2[0], j), true);
  }
  return both;
}
