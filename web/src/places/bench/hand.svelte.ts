import type { Schemas } from '../../api/client';
import { type Block, says } from '../../parts/words/blocks';
import { ofOthers, type Slip, takenIn, type Theirs, worded, wordsOf } from './outbox';

let count = 0;

/**
 * A run that is in hand: its blocks have keys that stay while the parts that they are get other names with each change
 * that is kept.
 */
export class Hand {
  readonly name = `${Date.now().toString(36)}-${count++}`;
  /** The parts that the blocks are, by key. */
  parts = $state.raw<Record<string, string>>({});
  /** The block that the cursor is in. */
  at = $state<string | undefined>();
  /** Where the cursor is to go. */
  goTo = $state.raw<{ key: string; at?: number | 'all' } | undefined>();
  /** The blocks as they are in the editor; one that comes later begins with them. */
  now = $state.raw<Block[]>([]);
  /** What others changed in the run, for the editor to show. */
  theirs = $state.raw<Theirs[]>([]);
  /** The words of the blocks as Mendry had them last, by key: what is other was typed here. */
  base: Record<string, string> = {};
  private fresh = 0;
  private last: Record<string, string> = {};

  constructor(bench: Schemas['Bench'], run: Schemas['PageRun']) {
    const first = worded(bench, run).map((b) => ({ key: this.key(), form: b.form, html: b.html, name: b.name }));
    run.blocks.forEach((b, i) => b.part && (this.parts[first[i]!.key] = b.part));
    this.now = first;
    [this.base, this.last] = [wordsOf(first), wordsOf(first)];
  }

  /** A key for a block that is new. */
  key = () => `${this.name}-${(this.fresh++).toString(36)}`;

  keyOf(part: string) {
    return Object.keys(this.parts).find((k) => this.parts[k] === part);
  }

  /** The part that the cursor is in; while that is a new one, the one before it. */
  get part() {
    const to = this.now.findIndex((b) => b.key === this.at);
    const near = this.now.slice(0, to + 1).findLast((b) => b.form && this.parts[b.key]);
    return near ? this.parts[near.key] : Object.values(this.parts)[0];
  }

  /** What is to be kept: a block that was emptied keeps its words until the cursor leaves it. */
  given(blocks: Block[], at: string | null): Block[] {
    this.now = blocks;
    return blocks.map((b) => {
      if (says(b)) this.last[b.key] = b.html ?? '';
      else if (b.key === at && this.parts[b.key] && this.last[b.key]) return { ...b, html: this.last[b.key] };
      return b;
    });
  }

  /** Whether a block that the cursor is not in was emptied, and its part still stands there. */
  emptied(at: string | null) {
    return this.now.some((b) => b.key !== at && b.form && this.parts[b.key] && !says(b));
  }

  /** The parts have other names. It reports false where one of them is gone. */
  named(to: (id: string) => string | undefined): boolean {
    const now = Object.entries(this.parts).map(([key, part]) => [key, to(part)] as const);
    if (now.some(([, part]) => !part)) return false;
    this.parts = Object.fromEntries(now) as Record<string, string>;
    return true;
  }

  /** Whether the run on the page has the parts of the hand, in its order: no act has changed the run itself. */
  stands(bench: Schemas['Bench']): boolean {
    const own = this.now.map((b) => this.parts[b.key]).filter(Boolean);
    const run = own[0] && runOf(bench, own[0]);
    return (
      !!run &&
      run.blocks
        .map((b) => b.part)
        .filter(Boolean)
        .join() === own.join()
    );
  }

  /** The run is in hand again, as what waits of it says. */
  takeUp({ act, parts, base }: Slip) {
    [this.parts, this.base, this.at] = [{ ...parts }, { ...base }, undefined];
    if (act.do === 'run') this.now = act.blocks as Block[];
  }

  /** Takes over which parts the blocks are after they were kept, and what others had changed in them. */
  kept(keys: Record<string, string>, { act, theirs }: Slip) {
    this.parts = { ...keys };
    if (act.do === 'run') this.base = wordsOf(act.blocks);
    if (theirs?.length) this.theirs = theirs;
  }

  /** Takes over what was made of parts elsewhere; what was typed in here stays. Gives what the editor is to show, and the
   * words that Mendry has. */
  others(made: ReturnType<typeof worded>): { theirs: Theirs[]; has: Record<string, string> } {
    this.theirs = ofOthers(this.now, this.base, made, { ...this.parts });
    this.now = takenIn(this.now, this.theirs);
    const has: Record<string, string> = {};
    for (const b of made) {
      const key = this.keyOf(b.part ?? '');
      if (key) has[key] = b.html;
    }
    Object.assign(this.base, has);
    Object.assign(this.last, wordsOf(this.theirs.map((t) => t.block)));
    return { theirs: this.theirs, has };
  }
}

/** The run that a part is in; undefined where its words stand alone. */
export const runOf = (bench: Schemas['Bench'], part: string) =>
  bench.runs.find((r) => r.blocks.some((b) => b.form && b.part === part));
