import type { Schemas } from '../../api/client';

type Place = Schemas['ElsewherePlace'];

export const placeKey = (p: Place) => `${p.page_id} ${p.part}`;

/** Those that can be changed and surely mean the same. */
export const sure = (places: Place[]) => places.filter((p) => !p.locked && p.sure).map(placeKey);

/** The picked ones as the server wants them. */
export const picks = (places: Place[], picked: string[]): Schemas['ElsewherePick'][] =>
  places.filter((p) => picked.includes(placeKey(p))).map((p) => ({ page_id: p.page_id, part: p.part }));
