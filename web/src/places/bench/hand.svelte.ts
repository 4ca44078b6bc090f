import type { Schemas } from '../../api/client';
import { type Block, says } from '../../parts/words/blocks';
import { type Names, runOnto, worded } from './onto';
import type { Slip } from './outbox';
import { arrivedAs, begun, type From, heldAs, keptAs, settled, theirsIn } from './rebased';

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
    this.from = keptAs(sent, this.from, keys, bench.draft, words);
  }

  /** What was sent of it is known to be kept, though no answer came. */
  arrived(sent: Block[]) {
    this.from = arrivedAs(sent, this.from);
  }

  /** Brings what is typed onto the page as others left it. It reports false where the run is gone. */
  onto(bench: Schemas['Bench'], to: Names): boolean {
    const on = runOnto(this.now, this.from, bench, to, this.key);
    if (!on) return false;
    const { blocks } = on;
    this.from = on.from;
    const text = (all: Block[]) => JSON.stringify(all.map(({ key, form, html }) => [key, form, html]));
    if (text(blocks) !== text(this.now)) {
      this.now = this.brought = blocks;
      this.remember();
    }
    return true;
  }

  /** Two wordings stood against each other: one of them stays. */
  decide(key: string, mine: boolean) {
    if (!this.from.clash?.[key]) return;
    if (!mine) this.now = this.brought = theirsIn(this.now, this.from, key);
    this.from = settled(this.from, key);
  }

  private remember() {
    for (const b of this.now) if (says(b) && b.html) this.last[b.key] = b.html;
  }
}

/** The run that a part is in; undefined where its words stand alone. */
export const runOf = (bench: Schemas['Bench'], part: string) =>
  bench.runs.find((r) => r.blocks.some((b) => b.form && b.part === part));
