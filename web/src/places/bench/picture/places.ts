import type { Schemas } from '../../../api/client';

/** The widths of windows in which places are measured, in CSS pixels: a phone, a tablet, a desk. */
export const windows = [390, 768, 1280] as const;

/** How large a picture is shown in a window of a width. */
export interface Place {
  at: (typeof windows)[number];
  width: number;
  height: number;
  fit: string;
  /** The place has a shape of its own, whatever stands in it. */
  own: boolean;
}
export type PlacesOf = Record<string, Place[]>;

/** A shape in small numbers where it is near to them: 16:9, 5:2, or else 1.85:1. */
export function ratio(width: number, height: number): string {
  if (!(height > 0)) return '';
  const r = width / height;
  for (const b of [1, 2, 3, 4, 5, 9]) {
    const a = Math.round(r * b);
    if (a >= 1 && (b < 9 || a === 16) && Math.abs(a / b / r - 1) < 0.008) return `${a}:${b}`;
  }
  return `${r.toFixed(2)}:1`;
}

/** The picture that a style sheet puts behind a part, as if it were a part of the page. */
export const behindAs = (part: Schemas['Part'], src: string): Schemas['Part'] => ({
  ...part,
  src,
  alt: '',
  change_id: undefined,
  picture: {
    background: true,
    narrow: '',
    share: false,
    linked: false,
    link: '',
    caption: '',
    side: '',
    percent: 0,
  },
});

/** The place at the widest window, after which a picture is cut. */
export const widest = (all: Place[] = []) => [...all].sort((a, b) => b.at - a.at)[0];

/** The points that a picture needs to be sharp on screens that show twice as many. */
export const wanted = (all: Place[] = []) => Math.max(0, ...all.map((p) => p.width)) * 2;
