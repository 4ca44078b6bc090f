import type { Editor } from '@tiptap/core';
import { ahead } from '../../look/ahead';

/** Types what was typed before the field was there. */
export function catchUp(editor: Editor) {
  const { view } = editor;
  for (const key of ahead.here()) {
    if (key === 'Enter' || key === 'Backspace') {
      const e = new KeyboardEvent('keydown', { key, code: key, cancelable: true });
      if (view.someProp('handleKeyDown', (handles) => handles(view, e)) || key === 'Enter') continue;
      const { $from } = view.state.selection; // the editor leaves a sign before the cursor to the browser
      const sign = [...$from.parent.textBetween(0, $from.parentOffset, '', '\ufffc')].at(-1) ?? '';
      view.dispatch(view.state.tr.delete($from.pos - sign.length, $from.pos));
    } else view.dispatch(view.state.tr.insertText(key).scrollIntoView());
  }
}
