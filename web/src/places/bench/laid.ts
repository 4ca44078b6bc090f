interface Note {
  id: string;
  want: number;
  tall: number;
}

/**
 * Lays notes out so that each stands as near to its part as it can without covering another. The one in hand has the
 * first claim and stays within the room.
 */
export function laid(notes: Note[], now: Note | undefined, room: number): Record<string, number> {
  const at: Record<string, number> = {};
  const gap = 6;
  const rest = [...notes].sort((a, b) => a.want - b.want);
  let above = Infinity;
  let below = 0;
  if (now) {
    const top = Math.max(8, Math.min(now.want, room - now.tall - 8));
    at[now.id] = top;
    above = top;
    below = top + now.tall + gap;
  }
  for (const n of rest.filter((x) => now && x.want < now.want).reverse()) {
    at[n.id] = Math.min(n.want, above - n.tall - gap + 4);
    above = at[n.id]!;
  }
  for (const n of rest.filter((x) => !now || x.want >= now.want)) {
    at[n.id] = Math.max(n.want, below);
    below = at[n.id]! + n.tall + gap;
  }
  return at;
}

/**
 * What notes are known by while a change that is being kept gives their parts other names: a press that began on one is
 * not to end on another in its place.
 */
export function noteKeys(parts: { id: string; change_id?: number | null }[]): string[] {
  const seen = new Map<number, number>();
  return parts.map(({ id, change_id }) => {
    if (!change_id) return id;
    const nth = (seen.get(change_id) ?? 0) + 1;
    seen.set(change_id, nth);
    return `${change_id}, ${nth}`;
  });
}
