import { type Block, says } from '../../parts/words/blocks';
import type { Schemas } from '../../api/client';
import type { Drawer } from '../../look/drawer';
import { alike, broughtOnto, decided, differs, type From, rebased, type Single, type Standing } from './rebased';
import { mergeable, saidBy, type Typed, withWords, wordsIn, wordsOn } from './typed';

export type Act = Schemas['Act'];
type Bench = Schemas['Bench'];

/** Something to be kept that lies on this machine until Mendry has it. */
export interface Slip {
  act: Act;
  wish_id?: number;
  /** What is put beside a shared part is put there on every page that has it. */
  everywhere?: boolean;
  /** The run or the field in hand that it was typed in. */
  owner?: string;
  /** Of a run: what it was typed from. */
  from?: From;
  /** Of words that stand alone: what they were typed from. */
  single?: Single;
}

/** Whether two slips are wordings of the same thing: the later one takes the place of the earlier. */
export function sameThing(a: Slip, b: Slip) {
  const of = ({ act, owner, from }: Slip) =>
    [act.do, from ? owner : '', 'part' in act ? act.part : '', 'name' in act ? act.name : ''].join(' ');
  return of(a) === of(b);
}

/** Whether a person has to decide between what was typed and what others made of the same words, before it is kept. */
export const waitsForWord = (s: Slip) => s.single?.theirs !== undefined || !!s.from?.clash;

/** Whether there is something in it to be kept now. A run without words waits until it has some. */
function ready(s: Slip): boolean {
  if (s.act.do !== 'run' || !s.from) return s.single?.theirs === undefined;
  const blocks = s.act.blocks as Block[];
  return differs(blocks, s.from) && blocks.some((b) => b.form && says(b));
}

/**
 * What is typed and not kept yet, in order. Every key stroke is written to this machine before anything else; it goes out
 * one after the other, and what was typed last of a thing takes the place of what waits of it. What cannot be kept is set
 * aside and shown, never dropped.
 */
export class Outbox {
  waiting: Slip[] = [];
  /** What was refused, or found no place on a page that had changed. */
  aside: Slip[] = [];
  /** What lies here outlives the page. */
  lasts = true;
  private sent: Slip | undefined;

  constructor(
    private readonly drawer: Drawer,
    readonly name: string,
  ) {}

  /** Takes up what was left here by a page that was closed. */
  open() {
    try {
      const left = JSON.parse(this.drawer.get(this.name) ?? '{}') as { waiting?: Slip[]; aside?: Slip[] };
      this.waiting = left.waiting ?? [];
      this.aside = left.aside ?? [];
    } catch {
      this.drawer.drop(this.name); // not written by this version
    }
  }

  /** Leaves what lies here to another tab. */
  leave() {
    [this.waiting, this.aside, this.sent] = [[], [], undefined];
  }

  put(s: Slip) {
    this.waiting = [...this.waiting.filter((w) => w === this.sent || !sameThing(w, s)), s];
    this.aside = this.aside.filter((w) => !sameThing(w, s));
    this.store();
  }

  /** The next one to be sent; it stays here until it is known what became of it. What says what Mendry has already goes. */
  next(): Slip | undefined {
    this.waiting = this.waiting.filter(
      (s) => !s.from || waitsForWord(s) || differs(s.act.do === 'run' ? (s.act.blocks as Block[]) : [], s.from),
    );
    this.sent = this.waiting.find(ready);
    this.store();
    return this.sent;
  }

  /** What waits of the same thing and was typed last. */
  last(like: Slip): Slip | undefined {
    return this.waiting.findLast((w) => sameThing(w, like));
  }

  /** What waits of a run that a part is in, and was typed last. */
  lastOfRun(part: string): Slip | undefined {
    return this.waiting.findLast((w) => w.from && Object.values(w.from.parts).includes(part));
  }

  /** The one that was sent may have been kept: no answer came. */
  unanswered(s: Slip) {
    if (s.from && s.act.do === 'run')
      s.from.maybe = decided(s.act.blocks as Block[], s.from).map((b) => ({ ...b, has: b.html ?? '' }));
    if (s.single) s.single.maybe = wordsIn(s.act);
    for (const w of this.waiting)
      if (w !== s && sameThing(w, s)) {
        if (w.from) w.from.maybe = s.from?.maybe;
        if (w.single) w.single.maybe = s.single?.maybe;
      }
    this.store();
  }

  /** The one that was sent is kept. */
  kept(s: Slip) {
    this.settle(s);
  }

  /**
   * The page is another draft, on which the parts have other names: what waits is brought onto it, or set aside where it
   * finds no place there. What is in hand is brought there by its owner.
   */
  onto(bench: Bench, to: (id: string) => string | undefined, owned: (s: Slip) => boolean) {
    for (const w of this.waiting) if (!owned(w) && !place(w, bench, to)) this.refused(w);
    this.store();
  }

  /** The one that was sent cannot be kept as it is. */
  refused(s: Slip) {
    this.settle(s);
    if (!this.waiting.some((w) => sameThing(w, s))) this.aside = [...this.aside, s];
    this.store();
  }

  /** Nothing of it is to be kept any more. */
  withdraw(like: Slip) {
    this.waiting = this.waiting.filter((w) => w === this.sent || !sameThing(w, like));
    this.store();
  }

  /** Puts something that was set aside away for good. */
  forget(s: Slip) {
    this.aside = this.aside.filter((w) => w !== s);
    this.store();
  }

  private settle(s: Slip) {
    this.sent = undefined;
    this.waiting = this.waiting.filter((w) => w !== s);
    this.store();
  }

  store() {
    this.lasts = true;
    if (this.waiting.length || this.aside.length)
      this.lasts = this.drawer.put(this.name, JSON.stringify({ waiting: this.waiting, aside: this.aside }));
    else this.drawer.drop(this.name);
  }
}

/** A run of the bench with the words of its blocks. */
export const worded = (bench: Bench, run: Schemas['PageRun']): Standing =>
  run.blocks.map((b) => ({ ...b, html: bench.parts.find((p) => p.id === b.part)?.edit ?? '' }));

/** The run of a page in which the blocks of another draft stand: that of their parts, or else the one that says most of the same. */
export function runLike(bench: Bench, from: From, to: (id: string) => string | undefined): Standing | undefined {
  const parts = Object.values(from.parts).map(to);
  const own = (r: Schemas['PageRun']) => r.blocks.filter((b) => b.part && parts.includes(b.part)).length;
  const all = bench.runs.map((r) => ({ run: worded(bench, r), own: own(r) }));
  if (!from.base.length) return undefined;
  const scored = all.map((a) => ({ ...a, score: alike(from.base, a.run) + a.own / 1000 }));
  const best = scored.sort((a, b) => b.score - a.score)[0];
  if (best && best.score >= 0.3) return best.run;
  return from.base.length === 1 ? all.find((a) => a.own)?.run : undefined;
}

/** Brings a slip onto a page. It reports false where it has no place there. */
function place(s: Slip, bench: Bench, to: (id: string) => string | undefined): boolean {
  if (s.act.do === 'run' && s.from) {
    const run = runLike(bench, s.from, to);
    if (!run) return false;
    const { blocks, from } = rebased(
      s.act.blocks as Block[],
      s.from,
      run,
      bench.draft,
      () => `theirs-${count++}-${bench.draft}`,
    );
    [s.act, s.from] = [{ do: 'run', blocks: blocks as never }, from];
    return true;
  }
  if (s.single) {
    const act = saidBy(s.act as Typed, to);
    const now = act && wordsOn(bench, act);
    if (!act || now === undefined) return false;
    const { mine, from } = broughtOnto(wordsIn(act), s.single, now, mergeable(act));
    [s.act, s.single] = [withWords(act, mine), from];
    return true;
  }
  return true; // an act is looked at when it was refused
}
let count = 0;

/** A run as it is sent: its blocks with the parts that they are. */
export function addressed(s: Slip): Act {
  if (s.act.do !== 'run' || !s.from) return s.act;
  const { parts } = s.from;
  return {
    do: 'run',
    blocks: decided(s.act.blocks as Block[], s.from).map(({ key, form, html }) => ({
      key,
      ...(form ? { form, html } : {}),
      ...(parts[key] ? { part: parts[key] } : {}),
    })),
  };
}

/** What a slip says, for whoever has to decide about it. */
export function saying(s: Slip): string {
  const { act } = s;
  if (act.do === 'run')
    return act.blocks
      .map((b) => plain(b.html ?? ''))
      .filter(Boolean)
      .join('\n');
  if ('html' in act && act.html) return plain(act.html);
  return 'words' in act ? (act.words ?? '') : '';
}

/** What others made of the words of a slip, where somebody has to decide. */
export const theirsOf = (s: Slip): string =>
  [s.single?.theirs, ...Object.values(s.from?.clash ?? {}).map((b) => b.html)]
    .map((html) => plain(html ?? ''))
    .filter(Boolean)
    .join('\n');

/** Words as they are read. */
export const plain = (html: string) =>
  html
    .replace(/<br>/g, '\n')
    .replace(/<[^>]*>/g, '')
    .replaceAll('&nbsp;', ' ')
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&amp;', '&');
