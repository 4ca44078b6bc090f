import { createNodeFromContent, Editor, getHTMLFromFragment, Mark, mergeAttributes, Node } from '@tiptap/core';
import StarterKit from '@tiptap/starter-kit';

/** A wrapper of the page that stays around its words: the server knows it by its number. */
const Kept = Mark.create({
  name: 'kept',
  inclusive: true,
  excludes: '',
  addAttributes: () => ({
    keep: { parseHTML: (el) => el.getAttribute('data-keep'), renderHTML: (a) => ({ 'data-keep': a.keep }) },
  }),
  parseHTML: () => [{ tag: 'span[data-keep]' }],
  renderHTML: ({ HTMLAttributes }) => ['span', HTMLAttributes, 0],
});

/** A style of the site on some of the words: a class of its style sheets. */
const Look = Mark.create({
  name: 'look',
  inclusive: true,
  excludes: 'look',
  addAttributes: () => ({
    look: { parseHTML: (el) => el.getAttribute('data-look'), renderHTML: (a) => ({ 'data-look': a.look }) },
  }),
  parseHTML: () => [{ tag: 'span[data-look]' }],
  renderHTML: ({ HTMLAttributes }) => ['span', HTMLAttributes, 0],
});

/** A code of another program, a picture or an icon: one thing, moved whole or left. */
const Sealed = Node.create({
  name: 'sealed',
  group: 'inline',
  inline: true,
  atom: true,
  draggable: true,
  selectable: true,
  addAttributes: () => ({
    seal: { parseHTML: (el) => el.getAttribute('data-seal'), renderHTML: (a) => ({ 'data-seal': a.seal }) },
    label: { parseHTML: (el) => el.textContent, rendered: false },
  }),
  parseHTML: () => [{ tag: 'span[data-seal]' }],
  renderHTML: ({ node, HTMLAttributes }) => [
    'span',
    mergeAttributes(HTMLAttributes, { title: 'Sealed: moved whole or left' }),
    String(node.attrs.label),
  ],
});

const small = (name: 'sub' | 'sup') =>
  Mark.create({ name, parseHTML: () => [{ tag: name }], renderHTML: () => [name, 0] });

export interface Wanted {
  element: HTMLElement;
  html: string;
  label: string;
  /** Called with the words as HTML each time they change. */
  onchange: (html: string) => void;
  /** Called each time the selection or the words change. */
  ontouch: (editor: Editor) => void;
  /** Called with what is pasted; plain says words only. */
  onpaste: (html: string, plain: boolean) => void;
  /** Called when a new part is to begin, with the words before and after the place, and how many of them go into it;
   * without it, Enter breaks the line. */
  onsplit?: (html: string, rest: string, size: number) => void;
  /** Called when the words, of such a length, are to go on in the block above. */
  onjoin?: (html: string, size: number) => void;
  /** Called when the words of the block below are to go on in this one. */
  onjoinnext?: () => void;
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
      Sealed,
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
        if (e.key === 'Enter' && !e.isComposing) {
          if (e.shiftKey || !w.onsplit) return editor.commands.setHardBreak();
          const { from, to } = chosen(editor);
          const all = editor.state.doc.firstChild!.content;
          const html = (a: number, b: number) => getHTMLFromFragment(all.cut(a, b), editor.schema);
          w.onsplit(html(0, from - 1), html(to - 1, all.size), from > 1 ? all.size - to + 1 : 0);
          return true;
        }
        const plainly = !e.shiftKey && !e.ctrlKey && !e.altKey && !e.metaKey && !e.isComposing;
        if (e.key === 'Backspace' && plainly && w.onjoin && chosen(editor).to === 1) {
          w.onjoin(inner(editor), editor.state.doc.firstChild!.content.size);
          return true;
        }
        if (
          e.key === 'Delete' &&
          plainly &&
          w.onjoinnext &&
          chosen(editor).from === editor.state.doc.content.size - 1
        ) {
          w.onjoinnext();
          return true;
        }
        return false;
      },
      handlePaste: (_, e) => {
        const html = e.clipboardData?.getData('text/html') ?? '';
        const text = e.clipboardData?.getData('text/plain') ?? '';
        const plain = shift || !html;
        w.onpaste(plain && !html ? escape(text) : html, plain);
        return true;
      },
    },
    onUpdate: ({ editor }) => w.onchange(inner(editor)),
    onTransaction: ({ editor }) => w.ontouch(editor),
  });
  return editor;
}

const escape = (s: string) =>
  s.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll(/\r?\n/g, '<br>');

/** What stands in the paragraph. */
export const inner = (editor: Editor) =>
  editor
    .getHTML()
    .replace(/^<p>/, '')
    .replace(/<\/p>$/, '');

/** What is chosen, by places in the document. The editor hears of a moved cursor a moment after the browser moved it. */
function chosen(editor: Editor): { from: number; to: number } {
  const s = document.getSelection();
  const { dom } = editor.view;
  if (!s?.anchorNode || !s.focusNode || !dom.contains(s.anchorNode) || !dom.contains(s.focusNode))
    return editor.state.selection;
  const ends = [editor.view.posAtDOM(s.anchorNode, s.anchorOffset), editor.view.posAtDOM(s.focusNode, s.focusOffset)];
  const size = editor.state.doc.content.size;
  const within = (n: number) => Math.min(Math.max(n, 1), size - 1);
  return { from: within(Math.min(...ends)), to: within(Math.max(...ends)) };
}

/** Reports whether some words are chosen, and not all of them. */
export const someChosen = (editor: Editor) => {
  const { from, to, empty } = editor.state.selection;
  return !empty && (from > 1 || to < editor.state.doc.content.size - 1);
};

/** Puts the cursor so many places before the end, or before such words there. */
export function cursorTo(editor: Editor, fromEnd: number | string) {
  const size =
    typeof fromEnd === 'number'
      ? fromEnd
      : createNodeFromContent(`<p>${fromEnd}</p>`, editor.schema).firstChild!.content.size;
  editor.commands.setTextSelection(Math.max(1, editor.state.doc.content.size - 1 - size));
}

/** Puts a style of the site on the chosen words, or takes it off. */
export const dress = (editor: Editor, look: string) => editor.chain().focus().toggleMark('look', { look }).run();
