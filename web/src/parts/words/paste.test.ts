import { Schema } from '@tiptap/pm/model';
import type { Editor } from '@tiptap/core';
import {
  AllSelection,
  EditorState,
  NodeSelection,
  type Selection,
  TextSelection,
  type Transaction,
} from '@tiptap/pm/state';
import { expect, it } from 'vitest';
import { followed, lined, Put } from './paste';

const schema = new Schema({
  nodes: {
    doc: { content: 'block+' },
    paragraph: { group: 'block', content: 'text*', attrs: { key: { default: null } } },
    sealedBlock: { group: 'block', atom: true },
    text: {},
  },
});
const p = (key: string, text: string) => schema.node('paragraph', { key }, text ? schema.text(text) : []);
const doc = schema.node('doc', null, [p('a', 'One two'), schema.node('sealedBlock'), p('b', 'Three'), p('c', '')]);
const at = (words: string) => {
  let found = -1;
  doc.descendants((n, pos) => {
    const i = n.text?.indexOf(words) ?? -1;
    if (i >= 0) found = pos + i;
  });
  return found;
};
const says = (s: EditorState) =>
  s.doc.children.map((n) => (n.isTextblock ? `${n.attrs.key}: ${n.textContent}` : 'sealed'));

it.each<[string, Selection, string[]]>([
  ['at the cursor', TextSelection.create(doc, at(' two')), ['a: Onenew two', 'sealed', 'b: Three', 'c: ']],
  [
    'for chosen words',
    TextSelection.create(doc, at('two'), at('two') + 3),
    ['a: One new', 'sealed', 'b: Three', 'c: '],
  ],
  ['from one block into another', TextSelection.create(doc, at('two'), at('ree')), ['a: One newree', 'c: ']],
  ['for all of it, in the first block', new AllSelection(doc), ['a: new']],
  [
    'behind the words before a sealed block that is chosen',
    NodeSelection.create(doc, 9),
    ['a: One twonew', 'sealed', 'b: Three', 'c: '],
  ],
  [
    'in an empty block',
    TextSelection.create(doc, doc.content.size - 1),
    ['a: One two', 'sealed', 'b: Three', 'c: new'],
  ],
])('puts words in %s', (_, selection, now) => {
  const state = EditorState.create({ doc, selection });
  const { tr, at } = lined(state, 'new');
  const after = state.apply(tr);
  expect(says(after)).toEqual(now);
  expect(after.doc.textBetween(at.from, at.to)).toBe('new');
  expect([after.selection.empty, after.selection.from]).toEqual([true, at.to]);
});

it('follows the words while others are typed before and behind them', () => {
  const state = EditorState.create({ doc, selection: TextSelection.create(doc, at(' two')) });
  const put = lined(state, 'new');
  let now = state.apply(put.tr);
  let stretch = put.at;
  for (const [where, words] of [
    ['to', 'behind'],
    ['from', 'before'],
  ] as const) {
    const tr = now.tr.insertText(words, stretch[where]);
    [now, stretch] = [now.apply(tr), followed(stretch, tr)];
  }
  expect(says(now)[0]).toBe('a: Onebeforenewbehind two');
  expect(now.doc.textBetween(stretch.from, stretch.to)).toBe('new');
});

/** As much of an editor as what was put into one asks for. */
function editorOf(state: EditorState) {
  const heard = new Set<(e: { transaction: Transaction }) => void>();
  const editor = {
    state,
    isDestroyed: false,
    on: (_: string, hears: (e: { transaction: Transaction }) => void) => heard.add(hears),
    off: (_: string, hears: (e: { transaction: Transaction }) => void) => heard.delete(hears),
    view: {
      dispatch: (transaction: Transaction) => {
        editor.state = editor.state.apply(transaction);
        heard.forEach((hears) => hears({ transaction }));
      },
    },
  };
  return editor;
}

it('takes out what was put in and puts back what it took the place of, whatever was typed around it', () => {
  const editor = editorOf(EditorState.create({ doc, selection: TextSelection.create(doc, at('two'), at('two') + 3) }));
  const { tr, at: where, was } = lined(editor.state, 'new');
  editor.view.dispatch(tr);
  const put = new Put(editor as unknown as Editor, where, was);
  editor.view.dispatch(editor.state.tr.insertText('!', where.to));
  editor.view.dispatch(editor.state.tr.insertText('All ', 1));
  expect([says(editor.state)[0], put.stand]).toEqual(['a: All One new!', true]);
  put.takeOut();
  expect(says(editor.state)[0]).toBe('a: All One two!');
});

it('stands no more where something was typed into it', () => {
  const editor = editorOf(EditorState.create({ doc, selection: TextSelection.create(doc, at(' two')) }));
  const { tr, at: where, was } = lined(editor.state, 'new');
  editor.view.dispatch(tr);
  const put = new Put(editor as unknown as Editor, where, was);
  editor.view.dispatch(editor.state.tr.insertText('er', where.from + 2));
  expect(put.stand).toBe(false);
});
