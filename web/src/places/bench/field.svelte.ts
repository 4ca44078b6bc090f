import type { Schemas } from '../../api/client';
import { broughtOnto, type Single } from './rebased';
import { mergeable, saidBy, type Typed, withWords, wordsIn, wordsOn } from './typed';

let count = 0;

/** A field in which one thing of the page is typed: what others make of it meanwhile is brought in. */
export class Field {
  readonly name = `f-${Date.now().toString(36)}-${count++}`;
  /** What stands in it. */
  now = $state('');
  /** The words as others left them, for an editor to show. */
  brought = $state.raw<string | undefined>();
  single: Single;
  /** Somebody has it before them. */
  open = true;

  constructor(
    private act: Typed,
    bench: Schemas['Bench'],
    /** What was typed in it before, and is not kept yet. */
    waits: { act: Typed; single?: Single } | undefined,
    private readonly ontype: (f: Field, wish?: number) => void,
  ) {
    const has = wordsOn(bench, act) ?? '';
    this.single = waits?.single ?? { was: has, has };
    this.now = waits ? wordsIn(waits.act) : has;
  }

  /** The act that gives the thing what stands in the field. */
  get says(): Typed {
    return withWords(this.act, this.now);
  }

  type(words: string, wish?: number) {
    this.now = words;
    this.ontype(this, wish);
  }

  /** The words as the editor writes them, when it has them and nothing was typed. */
  held(words: string) {
    if (this.single.was === this.now) this.single = { ...this.single, was: words };
    this.now = words;
  }

  /** What was sent of it is kept: what is typed goes on from there. */
  kept(sent: string, bench: Schemas['Bench'], to: (id: string) => string | undefined) {
    this.act = saidBy(this.act, to) ?? this.act;
    this.single = { was: sent, has: wordsOn(bench, this.act) ?? sent };
  }

  /** Nobody types in it any more: it shows what is kept. */
  leave() {
    if (this.now === this.single.was) this.now = this.single.was = this.single.has;
  }

  /** Brings what is typed onto the page as others left it. It reports false where the part is gone. */
  onto(bench: Schemas['Bench'], to: (id: string) => string | undefined): boolean {
    const act = saidBy(this.act, to);
    const has = act && wordsOn(bench, act);
    if (!act || has === undefined) return false;
    const { mine, from } = broughtOnto(this.now, this.single, has, mergeable(act));
    [this.act, this.single] = [act, from];
    if (mine !== this.now) this.now = this.brought = mine;
    return true;
  }

  /** Two wordings stood against each other: one of them stays. */
  decide(mine: boolean) {
    const { theirs, ...single } = this.single;
    if (theirs === undefined) return;
    this.single = single;
    if (!mine) this.now = this.brought = theirs;
  }
}
