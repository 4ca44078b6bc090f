import type { Schemas } from '../../api/client';
import type { Block } from '../../parts/words/blocks';
import { alike, broughtOnto, type From, rebased, type Single, type Standing } from './rebased';
import { mergeable, saidBy, type Typed, withWords, wordsIn, wordsOn } from './typed';

type Bench = Schemas['Bench'];
/** The name of a part on the page as it is now, by the one that it had. */
export type Names = (id: string) => string | undefined;

/** A run of the bench with the words of its blocks. */
export const worded = (bench: Bench, run: Schemas['PageRun']): Standing =>
  run.blocks.map((b) => ({ ...b, html: bench.parts.find((p) => p.id === b.part)?.edit ?? '' }));

/** The run of a page in which the blocks of another draft stand: that of their parts, or else the one that says most alike. */
function runLike(bench: Bench, from: From, to: Names): Standing | undefined {
  const parts = Object.values(from.parts).map(to);
  const own = (r: Schemas['PageRun']) => r.blocks.filter((b) => b.part && parts.includes(b.part)).length;
  if (!from.base.length) return undefined;
  const theirs = most(bench.runs, own)?.at;
  const still = theirs && worded(bench, theirs);
  if (still && (from.base.length === 1 || alike(from.base, still) >= 0.3)) return still;
  const best = most(
    bench.runs.map((r) => worded(bench, r)),
    (r) => alike(from.base, r),
  );
  return best && best.worth >= 0.3 ? best.at : undefined;
}

/** The first of those that are worth most; undefined where none is worth anything. */
function most<T>(all: T[], worth: (one: T) => number): { at: T; worth: number } | undefined {
  const by = all.map((at) => ({ at, worth: worth(at) })).sort((a, b) => b.worth - a.worth);
  return by[0] && by[0].worth > 0 ? by[0] : undefined;
}

/** A run as it is typed, brought onto the page as others left it; undefined where the run is gone. */
export function runOnto(blocks: Block[], from: From, bench: Bench, to: Names, fresh: () => string) {
  const run = runLike(bench, from, to);
  return run && rebased(blocks, from, run, bench.draft, fresh);
}

/** Words that stand alone as they are typed, brought onto the page as others left it; undefined where their part is gone. */
export function wordsOnto(typed: Typed, single: Single, bench: Bench, to: Names) {
  const act = saidBy(typed, to);
  const now = act && wordsOn(bench, act);
  if (!act || now === undefined) return undefined;
  const { mine, from } = broughtOnto(wordsIn(act), single, now, mergeable(act));
  return { act: withWords(act, mine), from };
}
