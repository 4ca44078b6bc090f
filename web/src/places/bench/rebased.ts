import type { Block } from '../../parts/words/blocks';
import { merged } from './merged';

/** A block of a run as Mendry has it: what was sent, or read; and the words that it made of it. */
export interface Known extends Block {
  has: string;
}

/** What a run is typed from. */
export interface From {
  draft: string;
  /** Its blocks on that draft, in order. */
  base: Known[];
  /** The parts that they are there, by key. */
  parts: Record<string, string>;
  /** What others made of blocks in whose words something else was typed here, by key: a person decides. */
  clash?: Record<string, Block>;
}

/** A run as it stands on a page. */
export type Standing = { part: string; form?: Block['form']; html: string; name: string }[];

const known = ({ key, form, html = '', name }: Block): Known => ({ key, form, html, name, has: html });

/** A run that is typed in from now on. */
export function begun(run: Standing, draft: string, fresh: () => string): { blocks: Block[]; from: From } {
  const base = run.map((r) => known({ key: fresh(), form: r.form, html: r.html, name: r.name }));
  return { blocks: base.map(asTyped), from: { draft, base, parts: partsOf(base, run) } };
}

const asTyped = ({ key, form, html, name }: Known): Block => ({ key, form, html, name });
const partsOf = (base: Block[], run: Standing) =>
  Object.fromEntries(run.flatMap((r, i) => (r.part ? [[base[i]!.key, r.part]] : [])));

/** What a run is typed from when it was kept as it was sent: Mendry made words of it. */
export function keptAs(
  sent: Block[],
  from: From,
  keys: Record<string, string>,
  draft: string,
  words: (part: string) => string | undefined,
): From {
  const base = sent
    .filter((b) => !b.form || keys[b.key])
    .map((b) => ({ ...known(b), has: words(keys[b.key] ?? '') ?? b.html ?? '' }));
  return { draft, base, parts: { ...keys }, ...(from.clash && { clash: from.clash }) };
}

/** What a run is typed from when what was sent of it is known to be kept, and nothing else yet. */
export function arrivedAs(sent: Block[], from: From): From {
  const base = sent.map(known);
  const parts = Object.fromEntries(base.flatMap(({ key }) => (from.parts[key] ? [[key, from.parts[key]]] : [])));
  return { ...from, base, parts };
}

/** What a run is typed from when an editor has taken it in, which writes the same words in its own way. */
export function heldAs(from: From, had: Block[], now: Block[]): From {
  const words = (all: Block[], key: string) => all.find((b) => b.key === key)?.html ?? '';
  const base = from.base.map((b) =>
    b.form && b.html === words(had, b.key) ? { ...b, html: words(now, b.key) || b.html } : b,
  );
  return { ...from, base };
}

/** What a run is typed from when somebody has decided about a block. */
export function settled(from: From, key: string): From {
  const left = Object.entries(from.clash ?? {}).filter(([k]) => k !== key);
  const { draft, base, parts } = from;
  return { draft, base, parts, ...(left.length && { clash: Object.fromEntries(left) }) };
}

/**
 * The blocks as they may be kept: where two wordings stand against each other, as Mendry has it; also where one of them
 * is that the block was taken out.
 */
export function decided(blocks: Block[], { base, clash = {} }: From): Block[] {
  const had = new Map(base.filter((b) => clash[b.key]).map((b) => [b.key, asTyped(b)]));
  const all = blocks.map((b) => had.get(b.key) ?? b);
  const order = base.map((b) => b.key);
  for (const b of had.values()) if (!all.some((x) => x.key === b.key)) putIn(all, b, order);
  return all;
}

/** Puts a block below the one before it in an order, of those that are there. */
function putIn(all: Block[], b: Block, order: string[]) {
  const before = order.slice(0, order.indexOf(b.key)).findLast((k) => all.some((x) => x.key === k));
  all.splice(all.findIndex((x) => x.key === before) + 1, 0, b);
}

/** The blocks when somebody decided for what others made of one of them. */
export function theirsIn(blocks: Block[], from: From, key: string): Block[] {
  const theirs = from.clash?.[key];
  if (!theirs) return blocks;
  const all = blocks.map((b) => (b.key === key ? { ...b, ...theirs } : b));
  if (!all.some((b) => b.key === key))
    putIn(
      all,
      theirs,
      from.base.map((b) => b.key),
    );
  return all;
}

/** Whether there is something to be kept. */
export function differs(blocks: Block[], from: From): boolean {
  const now = decided(blocks, from);
  return (
    now.length !== from.base.length ||
    now.some((b, i) => {
      const had = from.base[i]!;
      return b.key !== had.key || b.form !== had.form || (!!b.form && (b.html ?? '') !== had.html);
    })
  );
}

/** Words of one thing as they are typed, and what they are typed from. */
export interface Single {
  /** What was sent last, or read. */
  was: string;
  /** What Mendry made of it. */
  has: string;
  /** What others made of it, where that cannot be brought together with what is typed: a person decides. */
  theirs?: string;
}

/** What is typed, brought onto what Mendry has now. Addresses are not put together of two. */
export function broughtOnto(mine: string, from: Single, now: string, words = true): { mine: string; from: Single } {
  const on = (made: string, theirs?: string) => ({
    mine: made,
    from: { was: now, has: now, ...(theirs !== undefined && { theirs }) },
  });
  if (mine === now) return on(now);
  if (from.theirs !== undefined) return on(mine, now);
  if (now === from.has) return { mine, from: { was: from.was, has: from.has } };
  if (mine === from.was) return on(now);
  const both = now === from.was ? mine : words ? merged(from.was, mine, now) : undefined;
  return both === undefined ? on(mine, now) : on(both);
}

/**
 * A run as it is typed, brought onto the page as it is now: what was not touched here is as others left it, what both
 * touched has the words of both where these do not meet, and nothing that either typed goes without a word. What others
 * took out goes, unless something was typed in it here; what was taken out here comes back where others typed in it.
 */
export function rebased(
  blocks: Block[],
  from: From,
  run: Standing,
  draft: string,
  fresh: () => string,
): { blocks: Block[]; from: From } {
  const was = from.base;
  const mine = new Map(blocks.map((b) => [b.key, b]));
  const had = new Set(was.map((b) => b.key));
  const at = paired(was, run, mine);
  const keys = run.map((): string | undefined => undefined);
  const gone = new Set<string>();
  const comes = new Set<number>(); // what stands on the page and is to be shown here
  const clash: Record<string, Block> = {};
  const made = new Map<string, Block>();
  was.forEach((b, i) => {
    const m = mine.get(b.key);
    const j = at[i];
    if (j === undefined) {
      if (m && !typedIn(m, b)) gone.add(b.key);
      return;
    }
    keys[j] = b.key;
    const t = blockOf(run[j]!, b.key);
    if (!m) {
      if (from.clash?.[b.key]) clash[b.key] = t;
      else if (t.form && b.has !== t.html) comes.add(j);
    } else made.set(b.key, together(m, b, t, !!from.clash?.[b.key], clash));
  });
  run.forEach((r, j) => {
    if (keys[j] !== undefined) return;
    const same = blocks.find((b) => r.form && !had.has(b.key) && !keys.includes(b.key) && b.html === r.html);
    keys[j] = same?.key ?? fresh();
    if (!same) comes.add(j);
  });
  const left = blocks.filter((b) => !gone.has(b.key)).map((b) => made.get(b.key) ?? b);
  const back = (j: number) => ({ key: keys[j]!, block: blockOf(run[j]!, keys[j]!) });
  const all = inPlace(
    left,
    run.flatMap((_, j) => (comes.has(j) ? [back(j)] : [{ key: keys[j]! }])),
    !sameOrder(blocks, was),
  );
  const now = run.map((r, j) => known(blockOf(r, keys[j]!)));
  return {
    blocks: all,
    from: { draft, base: now, parts: partsOf(now, run), ...(Object.keys(clash).length && { clash }) },
  };
}

/** Whether blocks stand in the order that they had. */
function sameOrder(blocks: Block[], was: Known[]): boolean {
  const place = new Map(was.map((b, i) => [b.key, i]));
  const order = blocks.flatMap((b) => place.get(b.key) ?? []);
  return order.every((at, i) => !i || order[i - 1]! < at);
}

/**
 * Blocks in the order of the page, with those that come from there; in the order that somebody gave them here, where
 * somebody did. What is new here stays below the block that it was put in below.
 */
function inPlace(blocks: Block[], page: { key: string; block?: Block }[], own: boolean): Block[] {
  const here = new Map(blocks.map((b) => [b.key, b]));
  const stands = page.flatMap(({ key, block }) => block ?? here.get(key) ?? []);
  const on = new Set(stands.map((b) => b.key));
  const all = own ? [...blocks] : stands;
  const keys = (order: Block[]) => order.map((x) => x.key);
  if (own) for (const b of stands.filter((b) => !here.has(b.key))) putIn(all, b, keys(stands));
  else for (const b of blocks.filter((b) => !on.has(b.key))) putIn(all, b, keys(blocks));
  return all;
}

const blockOf = ({ form, html, name }: Standing[number], key: string): Block => ({ key, form, html, name });
/** Whether a block holds something of which it is not known that it was kept. */
const typedIn = (m: Block, b: Known) => !!m.form && (m.html !== b.html || m.form !== b.form);

/** What becomes of a block that stands here and there. */
function together(m: Block, b: Known, t: Block, clashed: boolean, clash: Record<string, Block>): Block {
  if (!m.form || !t.form) return t;
  const was = { was: b.html ?? '', has: b.has, ...(clashed && { theirs: '' }) };
  const { mine, from } = broughtOnto(m.html ?? '', was, t.html ?? '');
  if (from.theirs !== undefined) clash[t.key] = t;
  return { ...t, form: m.form === b.form ? t.form : m.form, html: mine };
}

/**
 * Which block of a run on the page each block is: those that say the same, in order; between two of them those that say
 * most alike, or stand in the same place where they are as many. One in which something was typed is also found where it
 * was moved to.
 */
function paired(was: Known[], run: Standing, mine: Map<string, Block>): (number | undefined)[] {
  const same = (b: Known, r: Standing[number]) => (b.form ? !!r.form && b.has === r.html : !r.form);
  const at: (number | undefined)[] = was.map(() => undefined);
  const steps = inOrder(was.length, run.length, (i, j) => (same(was[i]!, run[j]!) ? 1 : 0));
  let [i, j] = [0, 0];
  for (const [toI, toJ] of [...steps, [was.length, run.length] as const]) {
    const [n, m] = [toI - i, toJ - j];
    const like = (a: number, b: number) => {
      const [x, y] = [was[i + a]!, run[j + b]!];
      if (!x.form !== !y.form) return 0;
      return n === m && a === b ? 2 : likeness(x.has, y.html);
    };
    for (const [a, b] of inOrder(n, m, (a, b) => (like(a, b) > 0.25 ? like(a, b) : 0))) at[i + a] = j + b;
    if (toI < was.length) at[toI] = toJ;
    [i, j] = [toI + 1, toJ + 1];
  }
  was.forEach((b, n) => {
    const m = mine.get(b.key);
    if (at[n] !== undefined || !m || !typedIn(m, b)) return;
    const moved = run.findIndex((r, k) => same(b, r) && !at.includes(k));
    if (moved >= 0) at[n] = moved;
  });
  return at;
}

/** The pairs, in order in both, that are worth most together. */
function inOrder(n: number, m: number, worth: (i: number, j: number) => number): [number, number][] {
  const best = Array.from({ length: n + 1 }, () => new Float64Array(m + 1));
  for (let i = n - 1; i >= 0; i--)
    for (let j = m - 1; j >= 0; j--) {
      const w = worth(i, j);
      best[i]![j] = Math.max(best[i + 1]![j]!, best[i]![j + 1]!, w && w + best[i + 1]![j + 1]!);
    }
  const pairs: [number, number][] = [];
  for (let i = 0, j = 0; i < n && j < m;) {
    const w = worth(i, j);
    if (w && best[i]![j] === w + best[i + 1]![j + 1]!) pairs.push([i++, j++]);
    else if (best[i + 1]![j]! >= best[i]![j + 1]!) i++;
    else j++;
  }
  return pairs;
}

/** How much two say the same, from 0 to 1: the share of their words that are in both (Dice's coefficient). */
export function likeness(a: string, b: string): number {
  if (a === b) return 1;
  const words = (s: string) => s.replaceAll(/<[^>]*>/g, ' ').match(/[\p{L}\p{N}]+/gu) ?? [];
  const [all, there] = [words(a), words(b)];
  const left = new Map<string, number>();
  for (const w of there) left.set(w, (left.get(w) ?? 0) + 1);
  let both = 0;
  for (const w of all) {
    const n = left.get(w) ?? 0;
    if (n) both++;
    left.set(w, n - 1);
  }
  return all.length + there.length ? (2 * both) / (all.length + there.length) : 0;
}

/** How much a run says what blocks say: first by whole blocks, then by words. */
export const alike = (base: Known[], run: Standing) =>
  base.filter((b) => b.form && run.some((r) => r.html === b.has)).length +
  likeness(base.map((b) => b.has).join(' '), run.map((r) => r.html).join(' '));
