import { Editor, Extension, getMarkRange, Node } from '@tiptap/core';
import { NodeSelection, Plugin, PluginKey, TextSelection, type Transaction } from '@tiptap/pm/state';
import type { Node as Held } from '@tiptap/pm/model';
import StarterKit from '@tiptap/starter-kit';
import { ofOthers } from './become';
import { type Block, composed, held } from './blocks';
import { Kept, Look, Meant, Sealed, small } from './marks';
import { type Clip, clipOf } from './paste';
import { onlySaid, SaidWords } from './said';

/** A block that the editor does not know: a picture, a table, a wrapper. It is moved whole or left. */
const SealedBlock = Node.create({
  name: 'sealedBlock',
  group: 'block',
  atom: true,
  draggable: true,
  selectable: true,
  addAttributes: () => ({
    name: {
      default: '',
      parseHTML: (el) => el.getAttribute('data-sealed'),
      renderHTML: (a) => ({ 'data-sealed': a.name }),
    },
  }),
  parseHTML: () => [{ tag: 'div[data-sealed]' }],
  renderHTML: ({ node, HTMLAttributes }) => [
    'div',
    { ...HTMLAttributes, title: 'Sealed: moved whole or left. Double click opens it.' },
    String(node.attrs.name),
  ],
});

/** Each block keeps a key of its own, however it is turned or moved; what is new gets one. */
const Keys = Extension.create<{ fresh: () => string }>({
  name: 'keys',
  addOptions: () => ({ fresh: () => '' }),
  addGlobalAttributes: () => [
    {
      types: ['paragraph', 'heading', 'sealedBlock'],
      attributes: {
        key: {
          default: null,
          keepOnSplit: false,
          parseHTML: (el: HTMLElement) => el.getAttribute('data-key'),
          renderHTML: (a: { key?: string }) => (a.key ? { 'data-key': a.key } : {}),
        },
      },
    },
    // The headings of a client's page are none of this screen.
    { types: ['heading'], attributes: { role: { default: null, renderHTML: () => ({ role: 'presentation' }) } } },
  ],
  addProseMirrorPlugins() {
    const { fresh } = this.options;
    return [
      new Plugin({
        key: new PluginKey('keys'),
        appendTransaction: (all, _, state) =>
          all.some((t) => t.docChanged) ? keyed(state.doc, state.tr, fresh) : undefined,
      }),
    ];
  },
});

/** Gives keys to blocks that have none, or that of another one. Words that were split off their beginning keep theirs. */
function keyed(doc: Held, tr: Transaction, fresh: () => string): Transaction | undefined {
  const seen = new Set<string>();
  let before: { at: number; node: Held } | undefined;
  doc.descendants((node, at) => {
    if (!node.isTextblock && node.type.name !== 'sealedBlock') return true;
    const key = node.attrs.key as string | null;
    const set = (where: number, to: string) => tr.setNodeAttribute(where, 'key', to);
    if (key && !seen.has(key)) seen.add(key);
    else if (!key && before && !before.node.content.size && node.content.size && before.node.attrs.key) {
      set(at, String(before.node.attrs.key));
      const other = fresh();
      set(before.at, other);
      seen.add(other);
    } else {
      const other = fresh();
      set(at, other);
      seen.add(other);
    }
    before = { at, node };
    return false;
  });
  return tr.docChanged ? tr : undefined;
}

export interface WantedRun {
  element: HTMLElement;
  blocks: Block[];
  fresh: () => string;
  /** Called with the blocks each time they change. */
  onchange: (blocks: Block[]) => void;
  /** Called with the blocks when the editor took them in, from the page or from others. */
  onheld: (blocks: Block[]) => void;
  /** Called each time the selection or the words change, with the block that the cursor is in. */
  ontouch: (key: string | undefined) => void;
  onpaste: (clip: Clip) => void;
  /** Called when a sealed block is opened. */
  onopen: (key: string) => void;
}

/** A run of blocks in one document, as in any word processor. */
export function makeRunEditor(w: WantedRun): Editor {
  let shift = false;
  const editor: Editor = new Editor({
    element: w.element,
    injectCSS: false,
    enableInputRules: false,
    enablePasteRules: false,
    content: composed(w.blocks),
    autofocus: false,
    extensions: [
      StarterKit.configure({
        codeBlock: false,
        horizontalRule: false,
        blockquote: false,
        listItem: false,
        trailingNode: false,
        heading: { levels: [1, 2, 3, 4, 5, 6] },
        link: { openOnClick: false, autolink: false, linkOnPaste: false, HTMLAttributes: { target: null, rel: null } },
      }),
      ListItem,
      Quote,
      SealedBlock,
      Keys.configure({ fresh: w.fresh }),
      Kept,
      Look,
      Meant,
      Sealed,
      SaidWords,
      small('sub'),
      small('sup'),
    ],
    editorProps: {
      attributes: { 'aria-label': 'Words', role: 'textbox', 'aria-multiline': 'true', class: 'words-field run-field' },
      handleKeyDown: (_, e) => {
        shift = e.shiftKey;
        if (e.altKey && !e.ctrlKey && (e.key === 'ArrowUp' || e.key === 'ArrowDown'))
          return moved(editor, e.key === 'ArrowUp' ? -1 : 1);
        if (e.key !== 'Escape') return false;
        editor.view.dom.blur(); // single letters act again
        return true;
      },
      handleDoubleClickOn: (_view, _pos, node) => {
        if (node.type.name !== 'sealedBlock') return false;
        w.onopen(String(node.attrs.key));
        return true;
      },
      handlePaste: (_, e) => {
        const clip = clipOf(e, shift);
        if (/data-pm-slice/.test(clip.html) && /data-key/.test(clip.html) && !shift) return false; // blocks of a run
        w.onpaste(clip);
        return true;
      },
    },
    onCreate: ({ editor }) => w.onheld(held(editor.state.doc)),
    onUpdate: ({ editor, transaction }) => (ofOthers(transaction) ? w.onheld : w.onchange)(held(editor.state.doc)),
    onTransaction: ({ editor, transaction }) => onlySaid(transaction) || w.ontouch(keyAt(editor)),
  });
  return editor;
}

/** Moves the block or the item that the cursor is in past the one before or after it. */
function moved(editor: Editor, by: 1 | -1): boolean {
  const { $from } = editor.state.selection;
  const depth = $from.depth > 1 && $from.node(2)?.type.name === 'listItem' ? 2 : $from.depth ? 1 : 0;
  const at = depth ? $from.before(depth) : $from.pos;
  const node = editor.state.doc.nodeAt(at);
  const around = editor.state.doc.resolve(at);
  const i = around.index();
  const past = around.parent.maybeChild(i + by);
  if (!node || !past) return true;
  const to = by < 0 ? at - past.nodeSize : at + past.nodeSize;
  const tr = editor.state.tr.delete(at, at + node.nodeSize).insert(to, node);
  const inside = editor.state.selection.from - at;
  tr.setSelection(node.isAtom ? NodeSelection.create(tr.doc, to) : TextSelection.create(tr.doc, to + inside));
  editor.view.dispatch(tr.scrollIntoView());
  return true;
}

/** The blocks and items of the editor as they stand, for grips beside them. */
export function standing(editor: Editor): { top: number; tall: number; at: number }[] {
  const all: { top: number; tall: number; at: number }[] = [];
  const box = editor.view.dom.getBoundingClientRect();
  editor.state.doc.descendants((node, at) => {
    if (node.type.name === 'bulletList' || node.type.name === 'orderedList') return true;
    const el = editor.view.nodeDOM(at);
    if (el instanceof HTMLElement) {
      const r = el.getBoundingClientRect();
      all.push({ top: r.top - box.top, tall: r.height, at });
    }
    return false;
  });
  return all;
}

/** Begins to drag a block or an item by its grip. */
export function drag(editor: Editor, at: number, e: DragEvent) {
  const { view } = editor;
  view.dispatch(view.state.tr.setSelection(NodeSelection.create(view.state.doc, at)));
  const slice = view.state.selection.content();
  const { dom, text } = view.serializeForClipboard(slice);
  e.dataTransfer?.setData('text/html', dom.innerHTML);
  e.dataTransfer?.setData('text/plain', text);
  if (e.dataTransfer) e.dataTransfer.effectAllowed = 'move';
  view.dragging = { slice, move: true };
}

const ListItem = Node.create({
  name: 'listItem',
  content: 'paragraph',
  defining: true,
  parseHTML: () => [{ tag: 'li' }],
  renderHTML: () => ['li', 0],
  addKeyboardShortcuts() {
    return { Enter: () => this.editor.commands.splitListItem(this.name) };
  },
});

const Quote = Node.create({
  name: 'blockquote',
  content: 'paragraph+',
  group: 'block',
  defining: true,
  parseHTML: () => [{ tag: 'blockquote' }],
  renderHTML: () => ['blockquote', 0],
});

/** The block that the cursor is in. */
export function keyAt(editor: Editor): string | undefined {
  const { $from } = editor.state.selection;
  const node = $from.parent.isTextblock ? $from.parent : editor.state.doc.nodeAt($from.pos);
  return (node?.attrs.key as string | undefined) ?? undefined;
}

/** The link that the cursor is in. */
export function linkAt(editor: Editor): { href: string; says: string } | undefined {
  const { $from } = editor.state.selection;
  const type = editor.schema.marks.link!;
  const mark = type.isInSet($from.marks()) ?? type.isInSet($from.nodeAfter?.marks ?? []);
  const range = mark && getMarkRange($from, type, mark.attrs);
  if (!range) return undefined;
  return { href: String(mark.attrs.href), says: editor.state.doc.textBetween(range.from, range.to) };
}

/** Puts the cursor into a block: at its end, or at an offset. */
export function cursorIn(editor: Editor, key: string, at: number | 'all' = Infinity) {
  editor.state.doc.descendants((node, pos) => {
    if (node.attrs.key !== key) return true;
    if (node.isTextblock) {
      const end = pos + 1 + node.content.size;
      const { tr, doc } = editor.state;
      const from = at === 'all' ? pos + 1 : Math.min(pos + 1 + at, end);
      editor.view.dispatch(tr.setSelection(TextSelection.create(doc, from, at === 'all' ? end : from)));
    } else editor.commands.setNodeSelection(pos);
    return false;
  });
}

/** Gives the chosen blocks a form. */
export function turn(editor: Editor, form: string) {
  const c = editor.chain().focus();
  const plain = () => {
    if (editor.isActive('listItem')) c.liftListItem('listItem');
    if (editor.isActive('blockquote')) c.lift('blockquote');
    return c;
  };
  if (form === 'bullets' || form === 'numbers') {
    const name = form === 'bullets' ? 'bulletList' : 'orderedList';
    if (!editor.isActive(name)) {
      if (editor.isActive('blockquote')) c.lift('blockquote');
      c.setParagraph().toggleList(name, 'listItem');
    }
  } else if (form === 'quote') {
    if (!editor.isActive('blockquote')) plain().setParagraph().wrapIn('blockquote');
  } else if (form === 'p') plain().setParagraph();
  else plain().setHeading({ level: Number(form[1]) as 1 });
  c.run();
}

/** What the block that the cursor is in is. */
export function formAt(editor: Editor): string {
  if (editor.isActive('bulletList')) return 'bullets';
  if (editor.isActive('orderedList')) return 'numbers';
  if (editor.isActive('blockquote')) return 'quote';
  const node = editor.state.selection.$from.parent;
  return node.type.name === 'heading' ? `h${node.attrs.level}` : 'p';
}
