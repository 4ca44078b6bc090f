import { getHTMLFromFragment } from '@tiptap/core';
import type { Node } from '@tiptap/pm/model';
import type { Schemas } from '../../api/client';

type Form = Schemas['PartForm'];

/** A block of a run as the editor holds it. A sealed one has no form. */
export interface Block {
  key: string;
  form?: Form;
  html?: string;
  /** What a sealed block is called. */
  name?: string;
}

const lists = { bullets: 'ul', numbers: 'ol' } as Record<string, string>;
const escape = (s: string) => s.replaceAll('&', '&amp;').replaceAll('"', '&quot;').replaceAll('<', '&lt;');

/** The blocks as content for the editor. */
export function composed(blocks: Block[]): string {
  let out = '';
  let list = '';
  const close = () => {
    if (list) out += `</${list}>`;
    list = '';
  };
  for (const b of blocks) {
    const key = ` data-key="${escape(b.key)}"`;
    const wanted = lists[b.form ?? ''];
    if (wanted !== list) close();
    if (wanted) {
      if (!list) out += `<${(list = wanted)}>`;
      out += `<li><p${key}>${b.html ?? ''}</p></li>`;
    } else if (!b.form) out += `<div data-sealed="${escape(b.name ?? '')}"${key}></div>`;
    else if (b.form === 'quote') out += `<blockquote><p${key}>${b.html ?? ''}</p></blockquote>`;
    else out += `<${b.form}${key}>${b.html ?? ''}</${b.form}>`;
  }
  close();
  return out;
}

/** The blocks that an editor's document holds. */
export function held(doc: Node): Block[] {
  const all: Block[] = [];
  const take = (n: Node, form: Form) =>
    all.push({
      key: String(n.attrs.key),
      form,
      html: getHTMLFromFragment(n.content, doc.type.schema),
    });
  doc.forEach((n) => {
    if (n.type.name === 'sealedBlock') all.push({ key: String(n.attrs.key), name: String(n.attrs.name) });
    else if (n.type.name === 'paragraph') take(n, 'p');
    else if (n.type.name === 'heading') take(n, `h${n.attrs.level}` as Form);
    else if (n.type.name === 'blockquote') n.forEach((p) => take(p, 'quote'));
    else n.forEach((item) => item.forEach((p) => take(p, n.type.name === 'orderedList' ? 'numbers' : 'bullets')));
  });
  return all;
}

/** Whether words or a sealed thing stand in a block. */
export const says = (b: Block) =>
  !b.form || /data-seal/.test(b.html ?? '') || /[^\s\u00a0]/.test((b.html ?? '').replace(/<[^>]*>|&nbsp;/g, ''));

/**
 * Which parts the blocks are, on a page that was read again: those that say the same, in order, and between two of them
 * those that stand in the same place. A block that is none of the run's is new.
 */
export function aligned(blocks: Block[], run: { part: string; form?: string; html: string }[]): Record<string, string> {
  const same = (b: Block, r: (typeof run)[number]) => (b.form ? b.html === r.html : !r.form);
  const n = blocks.length;
  const m = run.length;
  const best = Array.from({ length: n + 1 }, () => new Uint16Array(m + 1));
  for (let i = n - 1; i >= 0; i--)
    for (let j = m - 1; j >= 0; j--)
      best[i]![j] = same(blocks[i]!, run[j]!) ? best[i + 1]![j + 1]! + 1 : Math.max(best[i + 1]![j]!, best[i]![j + 1]!);
  const parts: Record<string, string> = {};
  let gap: [number, number] = [0, 0];
  const between = (i: number, j: number) => {
    for (let k = 0; gap[0] + k < i && gap[1] + k < j; k++) {
      const b = blocks[gap[0] + k]!;
      const r = run[gap[1] + k]!;
      if (!b.form === !r.form && r.part) parts[b.key] = r.part;
    }
  };
  for (let i = 0, j = 0; i < n && j < m;) {
    if (same(blocks[i]!, run[j]!) && best[i]![j] === best[i + 1]![j + 1]! + 1) {
      between(i, j);
      if (run[j]!.part) parts[blocks[i]!.key] = run[j]!.part;
      gap = [++i, ++j];
    } else if (best[i + 1]![j]! >= best[i]![j + 1]!) i++;
    else j++;
  }
  between(n, m);
  return parts;
}

/** How many of the blocks say what a block of the run says. */
export const alike = (blocks: Block[], run: { form?: string; html: string }[]) =>
  blocks.filter((b) => b.form && run.some((r) => r.html === b.html)).length;
