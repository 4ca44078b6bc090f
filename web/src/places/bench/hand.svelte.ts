import type { Schemas } from '../../api/client';
import { type Block, says } from '../../parts/words/blocks';
import { type Slip, type Theirs, worded } from './outbox';

let count = 0;

/**
 * A run that is in hand: its blocks have keys that stay while the parts that they are get other names with each change
 * that is kept.
 */
export class Hand {
  readonly name = `${Date.now().toString(36)}-${count++}`;
  readonly first: Block[];
  /** The parts that the blocks are, by key. */
  parts = $state.raw<Record<string, string>>({});
  /** The block that the cursor is in. */
  at = $state<string | undefined>();
  /** Where the cursor is to go. */
  goTo = $state.raw<{ key: string; at?: number | 'all' } | undefined>();
  /** The blocks as they are in the editor. */
  now = $state.raw<Block[]>([]);
  /** What others changed in the run, for the editor to show. */
  theirs = $state.raw<Theirs[]>([]);
  /** The words of the blocks as Mendry had them last, by key: what is other was typed here. */
  base: Record<string, string> = {};
  private fresh = 0;
  private last: Record<string, string> = {};

  constructor(bench: Schemas['Bench'], run: Schemas['PageRun']) {
    this.first = worded(bench, run).map((b) => ({ key: this.key(), form: b.form, html: b.html, name: b.name }));
    run.blocks.forEach((b, i) => b.part && (this.parts[this.first[i]!.key] = b.part));
    this.now = this.first;
    for (const b of this.first) this.last[b.key] = this.base[b.key] = b.html ?? '';
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

  /** Takes over which parts the blocks are after they were kept, and what others had changed in them. */
  kept(keys: Record<string, string>, { act, theirs }: Slip) {
    this.parts = { ...keys };
    if (act.do === 'run') this.base = Object.fromEntries(act.blocks.map((b) => [b.key, b.html ?? '']));
    if (theirs?.length) this.theirs = theirs;
  }
}

/** The run that a part is in; undefined where its words stand alone. */
export const runOf = (bench: Schemas['Bench'], part: string) =>
  bench.runs.find((r) => r.blocks.some((b) => b.form && b.part === part));
