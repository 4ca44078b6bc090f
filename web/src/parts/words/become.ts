import type { Editor } from '@tiptap/core';
import { DOMParser, type Fragment, type Node as Held } from '@tiptap/pm/model';
import type { Transaction } from '@tiptap/pm/state';
import { diffIndices } from 'node-diff3';
import { type Block, composed, held } from './blocks';

const fromOthers = 'fromOthers';

/** Whether a change of the words came from others, and was not typed. */
export const ofOthers = (tr: Transaction) => !!tr.getMeta(fromOthers);

/** The words of a part become what others made of them: nothing of it can be undone here, nor moves the cursor. */
export function becomeWords(editor: Editor, html: string) {
  send(editor, (tr) => {
    const words = read(editor, `<p>${html}</p>`).firstChild;
    if (words) differing(tr, 0, words);
  });
}

/** The blocks of a run become what others made of them, likewise. */
export function become(editor: Editor, blocks: Block[]) {
  send(editor, (tr) => {
    const had = new Map(held(tr.doc).map((b) => [b.key, b]));
    const keys = new Set(blocks.map((b) => b.key));
    for (const key of had.keys()) if (!keys.has(key)) remove(tr, key);
    let before: string | undefined;
    for (const b of blocks) {
      const was = had.get(b.key);
      const at = find(tr.doc, b.key);
      const after = before === undefined ? -1 : (find(tr.doc, before) ?? -1);
      if (was && at !== undefined && was.form === b.form && at > after) {
        const words = b.form && was.html !== b.html && leaf(read(editor, composed([b])).firstChild);
        if (words) differing(tr, at, words);
      } else {
        if (at !== undefined) remove(tr, b.key);
        insert(tr, before, read(editor, composed([b])));
      }
      before = b.key;
    }
  });
}

function send(editor: Editor, change: (tr: Transaction) => void) {
  const tr = editor.state.tr.setMeta('addToHistory', false).setMeta(fromOthers, true);
  change(tr);
  if (tr.docChanged) editor.view.dispatch(tr);
}

function read(editor: Editor, html: string): Fragment {
  const box = document.createElement('div');
  box.innerHTML = html;
  return DOMParser.fromSchema(editor.schema).parse(box).content;
}

/** Puts blocks below the one with a key, or first; items into its list, where that is of their kind. */
function insert(tr: Transaction, before: string | undefined, made: Fragment) {
  const beside = before === undefined ? undefined : find(tr.doc, before);
  if (beside === undefined) return void tr.insert(0, made);
  const $at = tr.doc.resolve(beside);
  const list = $at.depth >= 2 && $at.node(1).type === made.firstChild?.type;
  if (list) tr.insert($at.after(2), made.firstChild!.content);
  else tr.insert($at.depth ? $at.after(1) : beside + tr.doc.nodeAt(beside)!.nodeSize, made);
}

/** Takes a block out, and what would be empty without it. */
function remove(tr: Transaction, key: string) {
  const at = find(tr.doc, key);
  if (at === undefined) return;
  const $at = tr.doc.resolve(at);
  let [from, to] = [at, at + tr.doc.nodeAt(at)!.nodeSize];
  for (let d = $at.depth; d > 0 && $at.node(d).childCount === 1; d--) [from, to] = [$at.before(d), $at.after(d)];
  tr.delete(from, to);
}

/** Makes the words of a block others, sign by sign where they differ: the cursor may be among them. */
function differing(tr: Transaction, at: number, words: Held) {
  const had = signs(tr.doc.nodeAt(at)!.content);
  const now = signs(words.content);
  const place = (all: Sign[], i: number) => (i < all.length ? all[i]!.at : (all.at(-1)?.end ?? 0));
  const hunks = diffIndices(
    had.map((s) => s.is),
    now.map((s) => s.is),
  );
  for (const { buffer1, buffer2 } of hunks.reverse()) {
    const [from, to] = [place(had, buffer1[0]), place(had, buffer1[0] + buffer1[1])];
    const made = words.slice(place(now, buffer2[0]), place(now, buffer2[0] + buffer2[1]));
    tr.replace(at + 1 + from, at + 1 + to, made);
  }
}

interface Sign {
  is: string;
  at: number;
  end: number;
}

/** Each sign of a block, with how it looks and where it stands. */
function signs(of: Fragment): Sign[] {
  const all: Sign[] = [];
  of.forEach((node, at) => {
    const look = JSON.stringify([node.type.name, node.isText ? '' : node.attrs, node.marks]);
    if (!node.isText) all.push({ is: look, at, end: at + node.nodeSize });
    else
      for (let i = 0; i < node.text!.length; i++) all.push({ is: node.text![i]! + look, at: at + i, end: at + i + 1 });
  });
  return all;
}

/** Where the block with a key begins. */
function find(doc: Held, key: string): number | undefined {
  let found: number | undefined;
  doc.descendants((node, at) => {
    if (node.attrs.key === key) found = at;
    return found === undefined && !node.isTextblock;
  });
  return found;
}

/** The first block of words in a node. */
function leaf(node: Held | null | undefined): Held | undefined {
  return node?.isTextblock ? node : node?.firstChild ? leaf(node.firstChild) : undefined;
}
