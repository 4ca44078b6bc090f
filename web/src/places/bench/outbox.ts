import { aligned, alike, type Block, says } from '../../parts/words/blocks';
import type { Schemas } from '../../api/client';

export type Act = Schemas['Act'];

/** Something to be kept that lies on this machine until Mendry has it. */
export interface Slip {
  act: Act;
  wish_id?: number;
  /** Of a run: which blocks are which parts, on the draft that it speaks of. */
  parts?: Record<string, string>;
  /** Of a run: what it is known by while it is in hand. */
  run?: string;
  draft?: string;
  /** Of a run: the words of its blocks as Mendry had them when the typing began. */
  base?: Record<string, string>;
  /** What others had changed in the run was taken in; the editor does not show it yet. */
  merged?: boolean;
}

/** A place on this machine that outlives the page: localStorage. */
export type Drawer = Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>;

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
  private sent: Slip | undefined;

  constructor(
    private readonly drawer: Drawer,
    readonly name: string,
  ) {}

  /** Takes up what was left here by a page that was closed. */
  open() {
    try {
      const left = JSON.parse(this.drawer.getItem(this.name) ?? '{}') as { waiting?: Slip[]; aside?: Slip[] };
      this.waiting = left.waiting ?? [];
      this.aside = left.aside ?? [];
    } catch {
      this.drawer.removeItem(this.name); // not written by this version
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

  /** The one that was sent is kept. Later wordings of the same run speak of the parts as they are now. */
  kept(s: Slip, keys: Record<string, string>, draft: string, whole: boolean) {
    this.settle(s);
    for (const w of this.waiting) {
      if (s.run && w.run === s.run) [w.parts, w.draft] = [{ ...keys }, draft];
      else if (w.run && w.draft === s.draft && !whole) w.draft = draft; // all parts have the names that they had
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
    if (this.waiting.length || this.aside.length)
      this.drawer.setItem(this.name, JSON.stringify({ waiting: this.waiting, aside: this.aside }));
    else this.drawer.removeItem(this.name);
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
    blocks = merged(blocks, base, run, parts);
    s.act = { do: 'run', blocks };
    [s.parts, s.draft, s.merged] = [parts, bench.draft, true];
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

/**
 * The blocks with what others changed: what was not typed here says what it says on the page now, and what they put in
 * stands where they put it. What is taken in is noted in parts.
 */
export function merged(
  blocks: Block[],
  base: Record<string, string>,
  run: ReturnType<typeof worded>,
  parts: Record<string, string>,
): Block[] {
  const now = new Map(run.map((r) => [r.part, r]));
  const all = blocks.map((b) => {
    const theirs = now.get(parts[b.key] ?? '');
    return theirs && b.form && b.html === base[b.key] ? { ...b, form: theirs.form, html: theirs.html } : b;
  });
  const known = new Set(Object.values(base));
  const mine = new Set(Object.values(parts));
  run.forEach((r, i) => {
    if (!r.form || mine.has(r.part) || known.has(r.html)) return; // what is known was taken out here
    const before = run.slice(0, i).findLast((p) => mine.has(p.part));
    const at = before ? all.findIndex((b) => parts[b.key] === before.part) + 1 : 0;
    const key = `theirs-${r.part}`;
    all.splice(at, 0, { key, form: r.form, html: r.html });
    parts[key] = r.part;
    mine.add(r.part);
  });
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
  return 'words' in act ? act.words : '';
}
