import type { Schemas } from '../../api/client';
import { type Names, wordsOnto } from './onto';
import type { Single } from './rebased';
import { saidBy, type Typed, withWords, wordsIn, wordsOn } from './typed';

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
  kept(sent: string, bench: Schemas['Bench'], to: Names) {
    this.act = saidBy(this.act, to) ?? this.act;
    this.single = { was: sent, has: wordsOn(bench, this.act) ?? sent };
  }

  /** What was sent of it is known to be kept, though no answer came. */
  arrived(sent: string) {
    this.single = { was: sent, has: sent };
  }

  /** Nobody types in it any more: it shows what is kept. */
  leave() {
    if (this.now === this.single.was) this.now = this.single.was = this.single.has;
  }

  /** Brings what is typed onto the page as others left it. It reports false where the part is gone. */
  onto(bench: Schemas['Bench'], to: Names): boolean {
    const on = wordsOnto(this.says, this.single, bench, to);
    if (!on) return false;
    [this.act, this.single] = [on.act, on.from];
    const words = wordsIn(on.act);
    if (words !== this.now) this.now = this.brought = words;
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
