/** How wide a page is laid out on the bench: as wide as there is room, or like a phone, a tablet, a desk screen, in px. */
export type Width = 'room' | '390' | '768' | '1280';

export const widths: { value: Width; label: string; title?: string }[] = [
  { value: 'room', label: 'fit', title: 'as wide as there is room' },
  { value: '390', label: '390' },
  { value: '768', label: '768' },
  { value: '1280', label: '1280' },
];

export const next = (w: Width): Width => widths[(widths.findIndex((x) => x.value === w) + 1) % widths.length]!.value;

/** The width in px; undefined where it is what there is. */
export const inPixels = (w: Width) => (w === 'room' ? undefined : Number(w));
