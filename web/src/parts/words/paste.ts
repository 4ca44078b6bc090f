import type { Editor } from '@tiptap/core';
import type { Slice } from '@tiptap/pm/model';
import { type EditorState, TextSelection, type Transaction } from '@tiptap/pm/state';
import { answer, api, Refusal, type Schemas } from '../../api/client';
import { refuse } from '../../look/toast';

/** What comes from the clipboard: as markup, or as words where there is none; its words alone where only these are wanted. */
export interface Clip {
  html: string;
  text?: string;
  plain: boolean;
  /** All of it in one line, which stands until the markup is cleaned. */
  line: string;
}

/** Reads the clipboard. */
export function clipOf(e: ClipboardEvent, wordsOnly: boolean): Clip {
  const html = e.clipboardData?.getData('text/html') ?? '';
  const text = e.clipboardData?.getData('text/plain') ?? '';
  const read = text || (new DOMParser().parseFromString(html, 'text/html').body.textContent ?? '');
  return { html, ...(!html && { text }), plain: wordsOnly, line: read.trim().replaceAll(/\s+/g, ' ') };
}

/** Where words stand in a document. */
export interface Stretch {
  from: number;
  to: number;
}

/**
 * Puts a line in the place of what is chosen, which is given; the block that the choice begins in keeps its place and its
 * name.
 */
export function lined(state: EditorState, line: string): { tr: Transaction; at: Stretch; was: Slice } {
  const { tr, doc, selection } = state;
  const { $from, $to, empty } = TextSelection.between(doc.resolve(selection.from), doc.resolve(selection.to));
  const was = doc.slice($from.pos, $to.pos);
  if (!empty) tr.delete($from.pos, $to.pos);
  const from = $from.pos;
  tr.insertText(line, from);
  return {
    tr: tr.setSelection(TextSelection.create(tr.doc, from + line.length)),
    at: { from, to: from + line.length },
    was,
  };
}

/** Follows a stretch through a change: what is typed at its ends is none of it. */
export function followed({ from, to }: Stretch, t: Transaction): Stretch {
  const start = t.mapping.map(from, 1);
  return { from: start, to: Math.max(start, t.mapping.map(to, -1)) };
}

/** Words that were put into an editor, wherever they stand while others are typed. */
export class Put {
  private readonly words: string;
  private readonly follow = ({ transaction }: { transaction: Transaction }) =>
    void (this.at = followed(this.at, transaction));

  constructor(
    private readonly editor: Editor,
    public at: Stretch,
    private readonly was: Slice,
  ) {
    this.words = this.says();
    editor.on('transaction', this.follow);
  }

  private says() {
    return this.editor.state.doc.textBetween(this.at.from, this.at.to, '\n');
  }

  /** Nobody has undone them, nor written over them or in their midst. */
  get stand() {
    return !this.editor.isDestroyed && !!this.words && this.says() === this.words;
  }

  /** Puts back what they took the place of; all else that was typed stays. */
  takeOut() {
    this.editor.view.dispatch(this.editor.state.tr.replace(this.at.from, this.at.to, this.was));
    this.leave();
  }

  /** They are followed no more. */
  leave() {
    this.editor.off('transaction', this.follow);
  }
}

/** The tables in cleaned markup, and whether there is nothing beside them; undefined where there are none. */
export function tablesIn(blocks: string): { html: string; alone: boolean } | undefined {
  const { body } = new DOMParser().parseFromString(blocks, 'text/html');
  const tables = [...body.querySelectorAll('table')];
  if (!tables.length) return undefined;
  return {
    html: tables.map((t) => t.outerHTML).join(''),
    alone: tables.map((t) => t.textContent).join('') === body.textContent?.trim(),
  };
}

/**
 * Pastes: the words at once, and what Mendry makes of their markup in their place as soon as it answers. Until then they
 * can be typed behind, undone and left; whatever becomes of the answer, the words are there. Gives what was cleaned, and
 * where it stands.
 */
export async function paste(
  editor: Editor,
  clip: Clip,
  pick: (got: Schemas['Cleaned']) => string,
): Promise<{ got: Schemas['Cleaned']; put: Put } | undefined> {
  const { tr, at, was } = lined(editor.state, clip.line);
  editor.view.dispatch(tr.scrollIntoView());
  const line = new Put(editor, at, was);
  try {
    const got = await answer(
      api.POST('/clean', {
        body: { html: clip.html, ...(clip.text !== undefined && { text: clip.text }), plain: clip.plain },
      }),
    );
    if (editor.isDestroyed) {
      refuse('You had left the words before what you pasted was cleaned: it stands there as plain words in one line.');
      return undefined;
    }
    if (!line.stand) return undefined; // undone, or written over
    const { selection, doc } = editor.state;
    const { from, to } = line.at;
    editor
      .chain()
      .setMeta('appendedTransaction', tr) // undone with the words that it takes the place of
      .deleteRange({ from, to })
      .insertContentAt(from, pick(got), { updateSelection: selection.empty && selection.from === to })
      .run();
    return { got, put: new Put(editor, { from, to: to + editor.state.doc.content.size - doc.content.size }, was) };
  } catch (e) {
    throw e instanceof Refusal ? new Refusal(e.status, `What you pasted stands as plain words. ${e.message}`) : e;
  } finally {
    line.leave();
  }
}
