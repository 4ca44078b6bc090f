import type { Schemas } from '../../../api/client';

/** The sections that are brought back whole, each at the first of its rows: those in which more than one part differs. */
export function sections(rows: Schemas['VersionRow'][]) {
  const count = new Map<string, number>();
  for (const r of rows) if (r.section) count.set(r.section, (count.get(r.section) ?? 0) + 1);
  const at = new Map<string, { id: string; name: string }>();
  for (const r of rows) {
    if (!r.section || (count.get(r.section) ?? 0) < 2) continue;
    count.delete(r.section);
    at.set(r.key, { id: r.section, name: r.section_name ?? '' });
  }
  return at;
}
