import type { Schemas } from '../../api/client';

/** What the client said “not yet” to of a part, in the round that was answered last. */
export function notesOf(
  notes: Schemas['ClientNote'][],
  changes: Schemas['Change'][],
  page: number,
  part: Schemas['Part'],
): Schemas['ClientNote'][] {
  return notes.filter((n) => {
    if (n.change_id === part.change_id) return true;
    const about = changes.find((c) => c.id === n.change_id);
    return about?.page_id === page && about.part === part.id;
  });
}
