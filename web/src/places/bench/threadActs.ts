import type { Schemas } from '../../api/client';
import { complain } from '../../look/toast';
import type { BenchPage } from './desk.svelte';

type Change = Schemas['Change'];

/** What can be done from the thread to the changes of the page in view. What goes wrong is said. */
export function threadActs(
  desk: () => BenchPage | undefined,
  page: () => number,
  choose: (part: string | undefined) => void,
) {
  const said = (act: () => Promise<unknown> | undefined) => async () => {
    try {
      await act();
    } catch (e) {
      complain(e);
    }
  };
  const undo = (change: number) => said(() => (desk()?.follows ? undefined : desk()?.drop(change)))();
  return {
    undo,
    /** Takes the last change of this page back that is not live. */
    async undoLast() {
      const last = desk()?.bench?.changes.findLast((c) => c.state === 'kept' && c.page_id === page());
      if (last) await undo(last.id);
    },
    /** Takes a live change back, as a change of its own. */
    takeBack: (c: Change) =>
      said(async () => {
        const untaken = desk()?.untaken();
        const made = await desk()?.make({ do: 'take-back', change: c.id }, c.wish_id);
        if (untaken?.()) choose(made || c.part || undefined);
      })(),
  };
}
