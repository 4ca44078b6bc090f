import type { Schemas } from '../../../api/client';

export type Sample = Exclude<Schemas['SectionSample'], ''>;

/** What a new section may begin with, in words, and a sketch of each: boxes of x, y, width and height on 64 by 40. */
export const samples: { kind: Sample; name: string; sketch: string }[] = [
  { kind: 'words', name: 'Words', sketch: '6,6,30,5 6,16,52,3 6,22,52,3 6,28,40,3' },
  { kind: 'beside', name: 'A picture beside words', sketch: '6,6,24,28 36,8,22,5 36,18,22,3 36,24,22,3 36,30,14,3' },
  { kind: 'two', name: 'Two columns', sketch: '6,6,24,4 6,14,24,3 6,20,24,3 34,6,24,4 34,14,24,3 34,20,24,3' },
  {
    kind: 'wide',
    name: 'A wide and a narrow column',
    sketch: '6,6,34,4 6,14,34,3 6,20,34,3 46,6,12,4 46,14,12,3 46,20,12,3',
  },
  {
    kind: 'three',
    name: 'Three columns',
    sketch: '5,6,15,14 5,24,15,3 5,30,15,3 24,6,15,14 24,24,15,3 24,30,15,3 43,6,15,14 43,24,15,3 43,30,15,3',
  },
  { kind: 'questions', name: 'Questions and answers', sketch: '6,6,52,6 6,16,52,6 10,25,44,2 6,31,52,6' },
  { kind: 'voices', name: 'Voices', sketch: '6,8,24,18 6,30,14,3 34,8,24,18 34,30,14,3' },
  { kind: 'call', name: 'A call to act', sketch: '14,8,36,5 20,17,24,3 24,25,16,8' },
  {
    kind: 'posts',
    name: 'Posts',
    sketch: '5,5,15,12 5,20,15,4 5,27,11,2 24,5,15,12 24,20,15,4 24,27,11,2 43,5,15,12 43,20,15,4 43,27,11,2',
  },
  { kind: 'video', name: 'A film', sketch: '6,5,52,30' },
];

/** The boxes of a sketch. */
export const boxes = (sketch: string) => sketch.split(' ').map((box) => box.split(',').map(Number));

/** Sections that a kind may begin with; all where none is named. */
export const ofKind = <S extends Pick<Schemas['LentSection'], 'sample'>>(all: S[], kind: string): S[] =>
  kind ? all.filter((s) => s.sample === kind || (kind === 'wide' && s.sample === 'two')) : all;

/** Sections that answer to what is sought: in their words, what is in them, or their page. */
export function sought<S extends Pick<Schemas['LentSection'], 'name' | 'words' | 'holds' | 'title' | 'address'>>(
  all: S[],
  words: string,
): S[] {
  const asked = words.toLowerCase().split(/\s+/).filter(Boolean);
  return all.filter((s) => {
    const says = `${s.name} ${s.words} ${s.holds} ${s.title} ${s.address}`.toLowerCase();
    return asked.every((w) => says.includes(w));
  });
}
