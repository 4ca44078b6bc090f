import type { Schemas } from '../../api/client';

/** The bench as an answer leaves it, which may list only the parts that are other than they were. */
export function taken(had: Schemas['Bench'], got: Schemas['Bench']): Schemas['Bench'] {
  const { live_url, draft_url } = had;
  if (got.whole) return { ...got, live_url, draft_url };
  const other = new Map(got.parts.map((p) => [p.id, p]));
  const parts = had.parts.map((p) => {
    const now = other.get(p.id);
    return now ? { ...now, shared: p.shared, reach: p.reach } : p;
  });
  return { ...got, live_url, draft_url, parts, runs: had.runs, whole: true };
}
