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
