import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { html } from '@codemirror/lang-html';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { EditorState } from '@codemirror/state';
import { drawSelection, EditorView, keymap, lineNumbers } from '@codemirror/view';
import { tags } from '@lezer/highlight';

/** An editor of markup. */
export interface MarkupEditor {
  set(words: string): void;
  /** Sets the cursor at the beginning of a line, from 1. */
  goTo(line: number): void;
  destroy(): void;
}

const colours = HighlightStyle.define([
  { tag: [tags.tagName, tags.angleBracket], color: 'var(--indigo)' },
  { tag: tags.attributeName, color: 'var(--walnut)' },
  { tag: [tags.attributeValue, tags.string], color: 'var(--moss)' },
  { tag: [tags.comment, tags.processingInstruction], color: 'var(--ink-soft)' },
]);

const look = EditorView.theme({
  '&': { height: '100%', fontSize: 'var(--size-s)', background: 'var(--paper)', color: 'var(--ink)' },
  '.cm-scroller': { fontFamily: 'var(--mono)', lineHeight: '1.65' },
  '.cm-gutters': { background: 'var(--linen)', color: 'var(--ink-soft)', borderRight: '1px solid var(--hem)' },
  '.cm-content': { padding: '8px 0' },
  '&.cm-focused': { outline: '2px solid var(--indigo)', outlineOffset: '-2px' },
});

/** Puts an editor into an element: behind a shadow root, whose styles need no style element on the page. Tab leaves it. */
export function edit(
  at: HTMLElement,
  first: string,
  line: number,
  on: { change: (words: string) => void; keep: () => void; leave: () => void },
): MarkupEditor {
  const root = at.shadowRoot ?? at.attachShadow({ mode: 'open' });
  const room = document.createElement('div');
  room.style.height = '100%';
  root.replaceChildren(room);
  const view = new EditorView({
    parent: room,
    root,
    state: EditorState.create({
      doc: first,
      extensions: [
        lineNumbers({ formatNumber: (n) => `${n + line - 1}` }),
        history(),
        drawSelection(),
        html({ matchClosingTags: true, autoCloseTags: false }),
        syntaxHighlighting(colours),
        look,
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ 'aria-label': 'Markup', spellcheck: 'false' }),
        EditorView.updateListener.of((u) => u.docChanged && on.change(u.state.doc.toString())),
        keymap.of([
          { key: 'Mod-Enter', run: () => (on.keep(), true) },
          { key: 'Escape', run: () => (on.leave(), true) },
          ...defaultKeymap,
          ...historyKeymap,
        ]),
      ],
    }),
  });
  view.focus();
  return {
    set: (words) => view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: words } }),
    goTo: (n) => {
      const { from } = view.state.doc.line(Math.min(Math.max(n, 1), view.state.doc.lines));
      view.dispatch({ selection: { anchor: from }, scrollIntoView: true });
      view.focus();
    },
    destroy: () => view.destroy(),
  };
}
