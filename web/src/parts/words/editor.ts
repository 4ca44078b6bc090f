import { Editor, Node } from '@tiptap/core';
import StarterKit from '@tiptap/starter-kit';
import { ofOthers } from './become';
import { Kept, Look, Meant, Sealed, small } from './marks';
import { type Clip, clipOf } from './paste';
import { onlySaid, SaidWords } from './said';

export interface Wanted {
  element: HTMLElement;
  html: string;
  label: string;
  /** Enter breaks no line in them, as in a link or a button: Shift and Enter do. */
  oneLine: boolean;
  /** Called with the words as HTML each time they change. */
  onchange: (html: string) => void;
  /** Called with the words when the editor took them in, from the page or from others. */
  onheld: (html: string) => void;
  /** Called each time the selection or the words change. */
  ontouch: (editor: Editor) => void;
  onpaste: (clip: Clip) => void;
}

/** The words of one part: marks, links, line breaks and sealed things; no more than one paragraph. */
export function makeEditor(w: Wanted): Editor {
  let shift = false;
  const editor: Editor = new Editor({
    element: w.element,
    injectCSS: false,
    content: `<p>${w.html}</p>`,
    autofocus: false,
    extensions: [
      StarterKit.configure({
        document: false,
        heading: false,
        bulletList: false,
        orderedList: false,
        listItem: false,
        listKeymap: false,
        blockquote: false,
        codeBlock: false,
        horizontalRule: false,
        dropcursor: false,
        gapcursor: false,
        trailingNode: false,
        link: { openOnClick: false, autolink: false, linkOnPaste: false, HTMLAttributes: { target: null, rel: null } },
      }),
      Node.create({ name: 'doc', topNode: true, content: 'paragraph' }),
      Kept,
      Look,
      Meant,
      Sealed,
      SaidWords,
      small('sub'),
      small('sup'),
    ],
    editorProps: {
      attributes: { 'aria-label': w.label, role: 'textbox', 'aria-multiline': 'true', class: 'box words-field' },
      handleKeyDown: (_, e) => {
        shift = e.shiftKey;
        if (e.key === 'Escape') {
          editor.view.dom.blur(); // single letters act again
          return true;
        }
        if (e.key === 'Enter' && !e.isComposing) return (w.oneLine && !shift) || editor.commands.setHardBreak();
        return false;
      },
      handlePaste: (_, e) => {
        w.onpaste(clipOf(e, shift));
        return true;
      },
    },
    onCreate: ({ editor }) => w.onheld(inner(editor)),
    onUpdate: ({ editor, transaction }) => (ofOthers(transaction) ? w.onheld : w.onchange)(inner(editor)),
    onTransaction: ({ editor, transaction }) => onlySaid(transaction) || w.ontouch(editor),
  });
  return editor;
}

/** What stands in the paragraph. */
export const inner = (editor: Editor) =>
  editor
    .getHTML()
    .replace(/^<p>/, '')
    .replace(/<\/p>$/, '');

/** Reports whether some words are chosen, and not all of them. */
export const someChosen = (editor: Editor) => {
  const { from, to, empty } = editor.state.selection;
  return !empty && (from > 1 || to < editor.state.doc.content.size - 1);
};

/** Puts a style of the site on the chosen words, or takes it off. */
export const dress = (editor: Editor, look: string) => editor.chain().focus().toggleMark('look', { look }).run();
