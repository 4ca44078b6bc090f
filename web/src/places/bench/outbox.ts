import { type Block, says } from '../../parts/words/blocks';
import type { Schemas } from '../../api/client';
import type { Drawer } from '../../look/drawer';
import { ownName } from '../../look/ownName';
import { decided, differs, type From, type Single } from './rebased';
import { runOnto, wordsOnto } from './onto';
import { type Typed, wordsIn } from './typed';

export type Act = Schemas['Act'];
type Bench = Schemas['Bench'];

/** Something that was sent, and of which no answer came: it may have been kept. */
interface Sent extends Slip {
  number: number;
  /** The draft that it was sent for: on another one it can be kept no more. */
  draft: string;
}

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
  /** By which it is known again, once it was sent: its first number. */
  known?: number;
}

/** What lies on this machine. */
interface Left {
  waiting: Slip[];
  aside: Slip[];
  id: string;
  number: number;
  out: Sent[];
}

/** Whether two slips are wordings of the same thing: the later one takes the place of the earlier. */
export function sameThing(a: Slip, b: Slip) {
  const of = ({ act, owner, from }: Slip) =>
    [act.do, from ? owner : '', 'part' in act ? act.part : '', 'name' in act ? act.name : ''].join(' ');
  return of(a) === of(b);
}

/** Whether a person has to decide between what was typed and what others made of the same words, before it is kept. */
export const waitsForWord = (s: Slip) => s.single?.theirs !== undefined || !!s.from?.clash;

/** Whether it says what Mendry has. */
function isKept({ act, from, single }: Slip): boolean {
  if (single) return wordsIn(act) === single.has;
  return !!from && !differs(act.do === 'run' ? (act.blocks as Block[]) : [], from);
}

/** Whether there is something in it to be kept now. A run without words waits until it has some. */
function ready(s: Slip): boolean {
  if (s.act.do !== 'run' || !s.from) return s.single?.theirs === undefined;
  const blocks = s.act.blocks as Block[];
  return differs(blocks, s.from) && blocks.some((b) => b.form && says(b));
}

/**
 * What is typed and not kept yet, in order. Every key stroke is written to this machine before anything else; it goes out
 * one after the other, and what was typed last of a thing takes the place of what waits of it. What cannot be kept is set
 * aside and shown, never dropped. What is sent is numbered, so that a page tells what of it arrived where no answer came.
 */
export class Outbox {
  waiting: Slip[] = [];
  /** What was refused, or found no place on a page that had changed. */
  aside: Slip[] = [];
  /** What lies here outlives the page. */
  lasts = true;
  /** By which Mendry knows what is sent from here. */
  id = ownName('outbox');
  /** That of what was sent last. */
  number = 0;
  private out: Sent[] = [];
  private onWay: Slip | undefined;

  constructor(
    private readonly drawer: Drawer,
    readonly name: string,
  ) {}

  /** Takes up what was left here by a page that was closed. */
  open() {
    try {
      const left = JSON.parse(this.drawer.get(this.name) ?? '{}') as Partial<Left>;
      this.waiting = left.waiting ?? [];
      this.aside = left.aside ?? [];
      if (left.id) [this.id, this.number, this.out] = [left.id, left.number ?? 0, left.out ?? []];
    } catch {
      this.drawer.drop(this.name); // not written by this version
    }
  }

  /** Leaves what lies here to another tab. */
  leave() {
    [this.waiting, this.aside, this.out, this.onWay, this.id] = [[], [], [], undefined, ownName('outbox')];
  }

  put(s: Slip) {
    this.waiting = [...this.waiting.filter((w) => w === this.onWay || !sameThing(w, s)), s];
    this.aside = this.aside.filter((w) => !sameThing(w, s));
    this.store();
  }

  /** The next one to be sent; it stays here until it is known what became of it. What says what Mendry has already goes. */
  next(draft: string): Slip | undefined {
    this.waiting = this.waiting.filter((s) => waitsForWord(s) || !isKept(s));
    const slip = (this.onWay = this.waiting.find(ready));
    if (slip) {
      this.number++;
      slip.known ??= this.number;
      this.out.push({ ...slip, number: this.number, draft });
    }
    this.store();
    return slip;
  }

  /** Whether it was sent, and no answer came yet. */
  isOnWay(s: Slip) {
    return this.onWay === s;
  }

  /** What was sent came back: it was answered that it is not kept. Without an answer, it may have been. */
  back(answered: boolean) {
    if (answered) this.out.pop();
    this.onWay = undefined;
    this.store();
  }

  /** What waits of the same thing and was typed last. */
  last(like: Slip): Slip | undefined {
    return this.waiting.findLast((w) => sameThing(w, like));
  }

  /** What waits of a run that a part is in, and was typed last. */
  lastOfRun(part: string): Slip | undefined {
    return this.waiting.findLast((w) => w.from && Object.values(w.from.parts).includes(part));
  }

  /** That which was sent without an answer and is on the page, as that tells; an act is done then. */
  arrived({ draft, arrived }: Bench): Slip | undefined {
    const got = this.out.find((o) => o.number === arrived);
    this.out = got ? [] : this.out.filter((o) => o.draft === draft);
    if (got && !got.from && !got.single) this.waiting = this.waiting.filter((w) => w.known !== got.known);
    this.store();
    return got;
  }

  /** What waits of the same thing. */
  like(s: Slip) {
    return this.waiting.filter((w) => sameThing(w, s));
  }

  /**
   * The page is another draft, on which the parts have other names: what waits is brought onto it, or set aside where it
   * finds no place there. What is in hand is brought there by its owner.
   */
  onto(bench: Bench, to: (id: string) => string | undefined, owned: (s: Slip) => boolean) {
    for (const w of this.waiting) if (!owned(w) && !place(w, bench, to)) this.refused(w);
    this.store();
  }

  /** Something is kept, or is nowhere to be kept any more. */
  settle(s: Slip) {
    if (s === this.onWay) [this.onWay, this.out] = [undefined, []];
    this.waiting = this.waiting.filter((w) => w !== s);
    this.store();
  }

  /** Something cannot be kept as it is. */
  refused(s: Slip) {
    this.settle(s);
    if (!this.waiting.some((w) => sameThing(w, s))) this.aside = [...this.aside, s];
    this.store();
  }

  /** Nothing of it is to be kept any more. */
  withdraw(like: Slip) {
    this.waiting = this.waiting.filter((w) => w === this.onWay || !sameThing(w, like));
    this.store();
  }

  /** Puts something that was set aside away for good. */
  forget(s: Slip) {
    this.aside = this.aside.filter((w) => w !== s);
    this.store();
  }

  store() {
    this.lasts = true;
    const { waiting, aside, id, number, out } = this;
    if (waiting.length || aside.length)
      this.lasts = this.drawer.put(this.name, JSON.stringify({ waiting, aside, id, number, out } satisfies Left));
    else this.drawer.drop(this.name);
  }
}

/** Brings a slip onto a page. It reports false where it has no place there. */
function place(s: Slip, bench: Bench, to: (id: string) => string | undefined): boolean {
  if (s.act.do === 'run' && s.from) {
    const on = runOnto(s.act.blocks as Block[], s.from, bench, to, () => `theirs-${count++}-${bench.draft}`);
    if (on) [s.act, s.from] = [{ do: 'run', blocks: on.blocks as never }, on.from];
    return !!on;
  }
  if (s.single) {
    const on = wordsOnto(s.act as Typed, s.single, bench, to);
    if (on) [s.act, s.single] = [on.act, on.from];
    return !!on;
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
