import { untrack } from 'svelte';
import type { Schemas } from '../../api/client';
import type { BenchPage } from './desk.svelte';
import { ahead } from '../../look/ahead';
import { opensWords } from './editors';
import type { Pointed } from './frame';
import { isWithin } from './links';

/** What of the page on the bench is taken in hand, and for which wish. Made while a component is. */
export class Taken {
  /** The part that was chosen. */
  part = $state<string | undefined>();
  /** In a run it is the one that the cursor is in. */
  readonly now: string | undefined = $derived.by(() => {
    const desk = this.desk();
    return desk?.hand ? desk.hand.part : this.part;
  });
  wish = $state<number | undefined>();
  /** Counted up when another part is chosen: the one in hand may only get another name. */
  hold = $state(0);
  /** One is being chosen in a list. */
  listing = $state(false);
  private brought: string | undefined;

  constructor(
    private desk: () => BenchPage | undefined,
    private request: () => Schemas['Request'] | undefined,
    private page: () => number,
    /** Brings a part into view. */
    private show: (part: string) => void,
    /** The part that the address names. */
    named: () => string | undefined,
  ) {
    $effect(() => {
      const part = named();
      untrack(() => {
        this.hold++;
        this.part = part;
        this.take();
      });
    });
    $effect(() => {
      if (this.now !== this.brought) this.bring(this.now);
    });
    $effect(() => {
      const desk = this.desk();
      // The page has come, or its parts have other names.
      if (desk?.bench && this.part && !desk.hand && !desk.follows) untrack(() => this.take());
    });
    $effect(() => {
      const part = this.desk()?.hand?.part;
      if (part) this.part = part;
    });
  }

  /** The parts got other names, by what was kept or undone; what has none any more is gone, and put down. */
  rename(to: (part: string) => string | undefined) {
    [this.part, this.brought] = [this.part, this.brought].map((id) => id && to(id));
  }

  /** Brings into view what somebody takes in hand: not when it only gets another name, nor when the page is loaded again. */
  bring(part: string | undefined = this.now) {
    this.brought = part;
    if (part) untrack(() => this.show(part));
  }

  /** Takes a part in hand, or puts down what is; one that was awaited gets the keys that were typed for it meanwhile. */
  choose(part: string | undefined, awaited = false) {
    const desk = this.desk();
    if (desk) [desk.taken, desk.renewed] = [desk.taken + 1, false];
    desk?.flush();
    const parts = desk?.bench?.parts ?? [];
    const it = parts.find((p) => p.id === part);
    const opens = !!it && opensWords(parts, it);
    if (!awaited || !opens) ahead.goes();
    if (opens) ahead.comes();
    if (part !== this.part) this.hold++;
    else if (desk && !desk.hand) desk.focuses++;
    this.part = part;
    this.take();
    this.listing = false;
    // What is changed where a wish was placed is done for that wish.
    const own = this.request()?.wishes.find(
      (w) => part && w.page_id === this.page() && w.part === part && ['open', 'done'].includes(w.state),
    );
    if (own) this.wish = own.id;
  }

  /** Takes the part that was chosen in hand, with the run that it is in. */
  private take() {
    const desk = this.desk();
    if (!desk?.bench) return;
    desk.take(this.part);
    const key = this.part && desk.hand?.keyOf(this.part);
    if (!key) return;
    desk.hand!.at = key;
    if (!desk.renewed) desk.hand!.goTo = { key, at: desk.takeCursor() };
    desk.renewed = false;
  }

  /** Takes what was pointed at in hand. Of a page that is being renewed only what is known by its key can be, since the
   * parts may have other names by now; then it reports false. */
  point({ under, again, around, ...at }: Pointed, renewed: boolean): boolean {
    const desk = this.desk();
    if (!desk) return true;
    const within = !renewed && around && isWithin(desk.bench, at.id, around.id);
    return this.pointAt(desk, within ? around : at, under, again, renewed);
  }

  private pointAt(
    desk: BenchPage,
    { id, key, at }: Pick<Pointed, 'id' | 'key' | 'at'>,
    under: string | undefined,
    again: boolean | undefined,
    renewed: boolean,
  ): boolean {
    if (!renewed) desk.under = under;
    if (key && desk.hand?.now.some((b) => b.key === key)) {
      [desk.hand.at, desk.hand.goTo] = [key, { key, at }];
      this.listing = false;
      return true;
    }
    if (renewed) return false;
    desk.cursor = at;
    if (id) this.choose(id, again);
    return true;
  }
}
