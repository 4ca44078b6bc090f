import type { Editor } from '@tiptap/core';
import { AllSelection, Selection, TextSelection } from '@tiptap/pm/state';
import type { EditorView } from '@tiptap/pm/view';
import { ahead } from '../../look/ahead';

/** Types what was typed before the field was there. */
export function catchUp(editor: Editor) {
  const { view } = editor;
  for (const key of ahead.here()) {
    if ([...key].length === 1) view.dispatch(view.state.tr.insertText(key).scrollIntoView());
    else if (key === 'Ctrl+a') view.dispatch(view.state.tr.setSelection(new AllSelection(view.state.doc)));
    else if (/^(Shift\+)?(Enter|Backspace|Delete)$/.test(key)) edit(view, key);
    else move(view, key);
  }
}

/** Does what a key does that puts no sign. */
function edit(view: EditorView, chord: string) {
  const key = chord.replace('Shift+', '');
  const e = new KeyboardEvent('keydown', { key, code: key, shiftKey: chord !== key, cancelable: true });
  if (view.someProp('handleKeyDown', (handles) => handles(view, e)) || key === 'Enter') return;
  const { $from, empty } = view.state.selection; // the editor leaves a sign beside the cursor to the browser
  const [from, to] = key === 'Delete' ? [$from.parentOffset, $from.parent.content.size] : [0, $from.parentOffset];
  const signs = empty ? [...$from.parent.textBetween(from, to, '', '\ufffc')] : [];
  const sign = (key === 'Delete' ? signs[0] : signs.at(-1))?.length ?? 0;
  view.dispatch(
    key === 'Delete'
      ? view.state.tr.delete($from.pos, $from.pos + sign)
      : view.state.tr.delete($from.pos - sign, $from.pos),
  );
}

/** Moves the cursor as a key does, in lines as the browser breaks them; with Shift what lies between is chosen. */
function move(view: EditorView, key: string) {
  const [, ctrl, shift, name] = /^(Ctrl\+)?(Shift\+)?(.+)$/.exec(key)!;
  const { doc, selection, tr } = view.state;
  const back = name === 'Home' || name === 'ArrowLeft' || name === 'ArrowUp';
  let { head } = back ? Selection.atStart(doc) : Selection.atEnd(doc);
  const line = name === 'Home' || name === 'End';
  if (!ctrl || !line) {
    view.focus(); // with the selection, from which the browser moves on
    const own = view.dom.ownerDocument.getSelection()!;
    const sides = name === 'ArrowLeft' || name === 'ArrowRight';
    const by = line ? 'lineboundary' : sides ? (ctrl ? 'word' : 'character') : 'line';
    own.modify(shift ? 'extend' : 'move', sides ? (back ? 'left' : 'right') : back ? 'backward' : 'forward', by);
    head = view.posAtDOM(own.focusNode!, own.focusOffset);
  }
  const to = doc.resolve(head);
  view.dispatch(tr.setSelection(TextSelection.between(shift ? selection.$anchor : to, to)).scrollIntoView());
}
