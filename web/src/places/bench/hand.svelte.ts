import type { Schemas } from '../../api/client';
import { type Block, says } from '../../parts/words/blocks';
import { runLike, type Slip, worded } from './outbox';
import { begun, decided, type From, heldAs, keptAs, rebased, settled } from './rebased';

let count = 0;

/**
 * A run that is in hand: its blocks have keys that stay while the parts that they are get other names with each change
 * that is kept.
 */
export class Hand {
  readonly name = `${Date.now().toString(36)}-${count++}`;
  /** The block that the cursor is in. */
  at = $state<string | undefined>();
  /** Where the cursor is to go. */
  goTo = $state.raw<{ key: string; at?: number | 'all' } | undefined>();
  /** The blocks as they are in the editor; one that comes later begins with them. */
  now = $state.raw<Block[]>([]);
  /** The blocks as others left the run, for the editor to show. */
  brought = $state.raw<Block[] | undefined>();
  /** What they are typed from. */
  from = $state.raw<From>({ draft: '', base: [], parts: {} });
  private fresh = 0;
  private last: Record<string, string> = {};

  constructor(bench: Schemas['Bench'], run: Schemas['PageRun']) {
    const { blocks, from } = begun(worded(bench, run), bench.draft, this.key);
    [this.now, this.from] = [blocks, from];
    this.remember();
  }

  /** A key for a block that is new. */
  key = () => `${this.name}-${(this.fresh++).toString(36)}`;

  /** The parts that the blocks are, by key. */
  get parts() {
    return this.from.parts;
  }

  keyOf(part: string) {
    return Object.keys(this.parts).find((k) => this.parts[k] === part);
  }

  /** The part that the cursor is in; while that is a new one, the one before it. */
  get part() {
    const to = this.now.findIndex((b) => b.key === this.at);
    const near = this.now.slice(0, to + 1).findLast((b) => b.form && this.parts[b.key]);
    return near ? this.parts[near.key] : Object.values(this.parts)[0];
  }

  /** The words as the editor writes them, when it has them and nothing was typed. */
  held(blocks: Block[]) {
    this.from = heldAs(this.from, this.now, blocks);
    this.now = blocks;
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

  /** The run is in hand again, as what waits of it says. */
  takeUp({ act }: Slip) {
    this.at = undefined;
    if (act.do === 'run') this.now = act.blocks as Block[];
  }

  /** What was sent of it is kept: what is typed goes on from there. */
  kept(sent: Block[], keys: Record<string, string>, bench: Schemas['Bench']) {
    const words = (part: string) => bench.parts.find((p) => p.id === part)?.edit;
    this.from = keptAs(decided(sent, this.from), this.from, keys, bench.draft, words);
  }

  /** Brings what is typed onto the page as others left it. It reports false where the run is gone. */
  onto(bench: Schemas['Bench'], to: (id: string) => string | undefined): boolean {
    const run = runLike(bench, this.from, to);
    if (!run) return false;
    const { blocks, from } = rebased(this.now, this.from, run, bench.draft, this.key);
    this.from = from;
    const text = (all: Block[]) => JSON.stringify(all.map(({ key, form, html }) => [key, form, html]));
    if (text(blocks) !== text(this.now)) {
      this.now = this.brought = blocks;
      this.remember();
    }
    return true;
  }

  /** Two wordings stood against each other: one of them stays. */
  decide(key: string, mine: boolean) {
    const theirs = this.from.clash?.[key];
    if (!theirs) return;
    this.from = settled(this.from, key);
    if (!mine) this.now = this.brought = this.now.map((b) => (b.key === key ? { ...b, ...theirs } : b));
  }

  private remember() {
    for (const b of this.now) if (says(b) && b.html) this.last[b.key] = b.html;
  }
}

/** The run that a part is in; undefined where its words stand alone. */
export const runOf = (bench: Schemas['Bench'], part: string) =>
  bench.runs.find((r) => r.blocks.some((b) => b.form && b.part === part));
