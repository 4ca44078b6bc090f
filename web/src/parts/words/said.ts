import { Extension } from '@tiptap/core';
import type { Editor } from '@tiptap/core';
import { Plugin, PluginKey, type Transaction } from '@tiptap/pm/state';
import { Decoration, DecorationSet } from '@tiptap/pm/view';
import type { Node } from '@tiptap/pm/model';

/** Words that a rule has something to say of; in a run, of one block. */
export interface Said {
  key?: string;
  words: string;
  level: 'stop' | 'look' | 'fine';
  say: string;
}

const plugin = new PluginKey<Said[]>('said');

/** Marks the words that a rule has something to say of, while they stand there. */
export const SaidWords = Extension.create({
  name: 'said',
  addProseMirrorPlugins: () => [
    new Plugin<Said[]>({
      key: plugin,
      state: { init: () => [], apply: (tr, had) => (tr.getMeta(plugin) as Said[] | undefined) ?? had },
      props: {
        decorations: (state) => DecorationSet.create(state.doc, marked(state.doc, plugin.getState(state) ?? [])),
      },
    }),
  ],
});

/** Whether a step of the editor only told what is said: nobody touched anything. */
export const onlySaid = (tr: Transaction) => tr.getMeta(plugin) !== undefined;

/** Tells the editor what is said of its words. */
export function tellSaid(editor: Editor, said: Said[]) {
  editor.view.dispatch(editor.state.tr.setMeta(plugin, said).setMeta('addToHistory', false));
}

function marked(doc: Node, said: Said[]): Decoration[] {
  const all: Decoration[] = [];
  if (!said.length) return all;
  doc.descendants((node, at) => {
    if (!node.isTextblock) return true;
    const text = node.textBetween(0, node.content.size, '\ufffc', '\ufffc');
    for (const s of said) {
      if (!s.words || (s.key && s.key !== node.attrs.key)) continue;
      for (let i = text.indexOf(s.words); i >= 0; i = text.indexOf(s.words, i + s.words.length)) {
        if (joined(text[i - 1], s.words[0]) || joined(s.words.at(-1), text[i + s.words.length])) continue;
        all.push(
          Decoration.inline(at + 1 + i, at + 1 + i + s.words.length, { class: `said-${s.level}`, title: s.say }),
        );
      }
    }
    return false;
  });
  return all;
}

/** Whether two signs are of one word. */
const joined = (a: string | undefined, b: string | undefined) =>
  !!a && !!b && /[\p{L}\p{N}]/u.test(a) && /[\p{L}\p{N}]/u.test(b);
