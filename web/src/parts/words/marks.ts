import { Mark, mergeAttributes, Node } from '@tiptap/core';

/** A wrapper of the page that stays around its words: the server knows it by its number. */
export const Kept = Mark.create({
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
export const Look = Mark.create({
  name: 'look',
  inclusive: true,
  excludes: 'look',
  addAttributes: () => ({
    look: { parseHTML: (el) => el.getAttribute('data-look'), renderHTML: (a) => ({ 'data-look': a.look }) },
  }),
  parseHTML: () => [{ tag: 'span[data-look]' }],
  renderHTML: ({ HTMLAttributes }) => ['span', HTMLAttributes, 0],
});

/** Words of another language or that run the other way, an abbreviation with what it stands for, words that are marked. */
export const Meant = Mark.create({
  name: 'meant',
  inclusive: false,
  excludes: '',
  addAttributes: () => ({
    tag: { parseHTML: (el) => el.localName, rendered: false },
    lang: { parseHTML: (el) => el.getAttribute('lang') },
    dir: { parseHTML: (el) => el.getAttribute('dir') },
    title: { parseHTML: (el) => (el.localName === 'abbr' ? el.getAttribute('title') : null) },
  }),
  parseHTML: () => [{ tag: 'abbr[title]' }, { tag: 'span[lang]' }, { tag: 'span[dir]' }, { tag: 'mark' }],
  renderHTML: ({ mark, HTMLAttributes }) => [String(mark.attrs.tag), HTMLAttributes, 0],
});

/** A code of another program, a picture or an icon: one thing, moved whole or left. */
export const Sealed = Node.create({
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

/** Raised and lowered words. */
export const small = (name: 'sub' | 'sup') =>
  Mark.create({ name, parseHTML: () => [{ tag: name }], renderHTML: () => [name, 0] });
