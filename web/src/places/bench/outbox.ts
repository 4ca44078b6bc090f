import { merged } from './merged';
import { aligned, alike, type Block, says } from '../../parts/words/blocks';
import type { Schemas } from '../../api/client';
import type { Drawer } from '../../look/drawer';

export type Act = Schemas['Act'];

/** Something to be kept that lies on this machine until Mendry has it. */
export interface Slip {
  act: Act;
  wish_id?: number;
  /** What is put beside a shared part is put there on every page that has it. */
  everywhere?: boolean;
  /** Of a run: which blocks are which parts, on the draft that it speaks of. */
  parts?: Record<string, string>;
  /** Of a run: what it is known by while it is in hand. */
  run?: string;
  draft?: string;
  /** Of a run: the words of its blocks as Mendry had them when the typing began. */
  base?: Record<string, string>;
  /** Of a run: what others had changed in it and was taken in; the editor does not show it yet. */
  theirs?: Theirs[];
}

/** A block of a run as somebody else made it: other words than it had, or new after another one. */
export interface Theirs {
  block: Block;
  was?: string;
  after?: string;
}

/** Whether two slips are wordings of the same thing: the later one takes the place of the earlier. */
export function sameThing(a: Slip, b: Slip) {
  const of = ({ act, run }: Slip) =>
    [act.do, run ?? '', 'part' in act ? act.part : '', 'name' in act ? act.name : ''].join(' ');
  return of(a) === of(b);
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

  /** The next one to be sent; it stays here until it is known what became of it. */
  next(): Slip | undefined {
    this.sent = this.waiting[0];
    return this.sent;
  }

  /** What waits of the same thing and was typed last. */
  last(like: Slip): Slip | undefined {
    return this.waiting.findLast((w) => sameThing(w, like));
  }

  /** What waits of a run that a part is in, and was typed last. */
  lastOfRun(part: string): Slip | undefined {
    return this.waiting.findLast((w) => w.run && Object.values(w.parts ?? {}).includes(part));
  }

  /** The one that was sent is kept. Later wordings of the same run speak of the parts as they are now. */
  kept(s: Slip, keys: Record<string, string>, draft: string, whole: boolean) {
    this.settle(s);
    for (const w of this.waiting) {
      if (s.run && w.run === s.run) {
        [w.parts, w.draft] = [{ ...keys }, draft];
      } else if (w.run && w.draft === s.draft && !whole) w.draft = draft; // all parts have the names that they had
    }
    if (s.run && s.theirs) this.takeIn(s.run, s.theirs, wordsOf(s.theirs.map((t) => t.block)));
    else this.store();
  }

  /** What waits for a run has what others made of its blocks, of which Mendry has the words by key. */
  takeIn(run: string, theirs: Theirs[], has: Record<string, string>) {
    for (const w of this.waiting) {
      if (w.run !== run || w.act.do !== 'run') continue;
      w.act.blocks = takenIn(w.act.blocks as Block[], theirs) as never;
      w.base = { ...w.base, ...has };
    }
    this.store();
  }

  /** The parts have other names on the draft as it is now: what waits for other runs speaks of them by these. */
  named(to: (id: string) => string | undefined, from: string | undefined, draft: string) {
    for (const w of this.waiting) {
      if (!w.run || w.draft !== from || !w.parts) continue;
      const now = Object.entries(w.parts).map(([key, part]) => [key, to(part)] as const);
      if (now.some(([, part]) => !part)) continue; // it is placed by what it says
      [w.parts, w.draft] = [Object.fromEntries(now) as Record<string, string>, draft];
    }
    this.store();
  }

  /** The one that was sent cannot be kept as it is. */
  refused(s: Slip) {
    this.settle(s);
    if (!this.waiting.some((w) => sameThing(w, s))) this.aside = [...this.aside, s];
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

  private store() {
    this.lasts = true;
    if (this.waiting.length || this.aside.length)
      this.lasts = this.drawer.put(this.name, JSON.stringify({ waiting: this.waiting, aside: this.aside }));
    else this.drawer.drop(this.name);
  }
}

/** A run of the bench with the words of its blocks. */
export const worded = (bench: Schemas['Bench'], run: Schemas['PageRun']) =>
  run.blocks.map((b) => ({ ...b, html: bench.parts.find((p) => p.id === b.part)?.edit ?? '' }));

/**
 * A slip as it is sent: the blocks of a run with the parts that they are. A page that has changed since is looked through
 * for the run that says most of the same. It is undefined where there is none.
 */
export function addressed(s: Slip, bench: Schemas['Bench']): Act | undefined {
  if (s.act.do !== 'run') return s.act;
  let blocks = s.act.blocks as Block[];
  let parts = s.parts ?? {};
  if (s.draft !== bench.draft) {
    const base = s.base ?? {};
    const was = blocks.map((b) => ({ ...b, html: base[b.key] ?? b.html })); // what they said before they were typed in
    const runs = bench.runs.map((r) => worded(bench, r)).map((r) => ({ run: r, score: alike(was, r) }));
    const best = runs.sort((a, b) => b.score - a.score)[0];
    const own = bench.runs.find((r) => r.blocks.some((b) => b.part && Object.values(parts).includes(b.part)));
    const run = best && best.score > 0 ? best.run : blocks.length === 1 && own ? worded(bench, own) : undefined;
    if (!run) return undefined;
    parts = aligned(was, run);
    const theirs = ofOthers(blocks, base, run, parts);
    blocks = takenIn(blocks, theirs);
    s.act = { do: 'run', blocks };
    [s.parts, s.draft] = [parts, bench.draft];
    s.theirs = [...(s.theirs ?? []), ...theirs];
  }
  return {
    do: 'run',
    blocks: blocks.map(({ key, form, html }) => ({
      key,
      ...(form ? { form, html } : {}),
      ...(parts[key] ? { part: parts[key] } : {}),
    })),
  };
}

/** The words of blocks, by key. */
export const wordsOf = (blocks: Pick<Block, 'key' | 'html'>[]): Record<string, string> =>
  Object.fromEntries(blocks.map((b) => [b.key, b.html ?? '']));

/**
 * What others changed in a run: what was not typed here says what it says on the page now, what was is merged where it can
 * be, and what they put in stands where they put it. What is taken in is noted in parts.
 */
export function ofOthers(
  blocks: Block[],
  base: Record<string, string>,
  run: ReturnType<typeof worded>,
  parts: Record<string, string>,
): Theirs[] {
  const now = new Map(run.map((r) => [r.part, r]));
  const theirs: Theirs[] = [];
  for (const b of blocks) {
    const r = now.get(parts[b.key] ?? '');
    if (!r || !b.form || (b.html === r.html && b.form === r.form)) continue;
    const [was, typed] = [base[b.key], b.html];
    const html = typed === was ? r.html : b.form === r.form && was && typed ? merged(was, typed, r.html) : undefined;
    if (html !== undefined) theirs.push({ block: { key: b.key, form: r.form, html }, was: typed });
  }
  const known = new Set(Object.values(base));
  const keyOf = new Map(Object.entries(parts).map(([key, part]) => [part, key]));
  run.forEach((r, i) => {
    if (!r.form || keyOf.has(r.part) || known.has(r.html)) return; // what is known was taken out here
    const before = run.slice(0, i).findLast((p) => keyOf.has(p.part));
    const key = `theirs-${r.part}`;
    theirs.push({ block: { key, form: r.form, html: r.html }, after: before && keyOf.get(before.part) });
    parts[key] = r.part;
    keyOf.set(r.part, key);
  });
  return theirs;
}

/** The blocks with what others made of them; what was typed in since stays. */
export function takenIn(blocks: Block[], theirs: Theirs[]): Block[] {
  const all = [...blocks];
  for (const { block, was, after } of theirs) {
    const at = all.findIndex((b) => b.key === block.key);
    if (at >= 0) {
      if (all[at]!.html === was) all[at] = { ...all[at], ...block };
    } else if (was === undefined) all.splice(all.findIndex((b) => b.key === after) + 1, 0, block);
  }
  return all;
}

/** Whether there is anything to keep in a run: one without words waits until it has some. */
export const worth = (s: Slip) => s.act.do !== 'run' || (s.act.blocks as Block[]).some((b) => b.form && says(b));

/** What a slip says, for whoever has to decide about it. */
export function saying(s: Slip): string {
  const plain = (html: string) =>
    html
      .replace(/<br>/g, '\n')
      .replace(/<[^>]*>/g, '')
      .replaceAll('&nbsp;', ' ')
      .replaceAll('&lt;', '<')
      .replaceAll('&gt;', '>')
      .replaceAll('&amp;', '&');
  const { act } = s;
  if (act.do === 'run')
    return act.blocks
      .map((b) => plain(b.html ?? ''))
      .filter(Boolean)
      .join('\n');
  if ('html' in act && act.html) return plain(act.html);
  return 'words' in act ? (act.words ?? '') : '';
}
