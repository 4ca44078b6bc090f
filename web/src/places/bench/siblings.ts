import type { Schemas } from '../../api/client';

type Part = Pick<Schemas['Part'], 'id' | 'fits'>;

/** The parts that stand in a row with one, in order, the part itself among them. */
export function siblings<P extends Part>(parts: P[], of: P): P[] {
  const byID = new Map(parts.map((p) => [p.id, p]));
  const beside = (p: P, where: 'before' | 'after') => byID.get(p.fits.find((f) => f.where === where)?.anchor ?? '');
  const all = [of];
  const seen = new Set([of.id]);
  for (let p = beside(of, 'before'); p && !seen.has(p.id); p = beside(p, 'before')) {
    all.unshift(p);
    seen.add(p.id);
  }
  for (let p = beside(of, 'after'); p && !seen.has(p.id); p = beside(p, 'after')) {
    all.push(p);
    seen.add(p.id);
  }
  return all;
}
