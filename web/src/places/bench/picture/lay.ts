import type { Schemas } from '../../../api/client';
import type { From } from './picking.svelte';

/** How a picture lies among words. */
export interface Lay {
  side: '' | 'left' | 'centre' | 'right';
  /** Of the width of the words; 0 for its own size. */
  percent: number;
  caption: string;
  title: string;
  link: string;
}
export const layOf = (a: Schemas['PutPictureAct']): Lay => ({
  side: a.side ?? '',
  percent: a.percent ?? 0,
  caption: a.caption ?? '',
  title: a.title ?? '',
  link: a.link ?? '',
});
/** How a picture that the request put in was put in, by the picture or by what it stands in. */
export function putOf(bench: Schemas['Bench'], part: Schemas['Part']): Schemas['PutPictureAct'] | undefined {
  return bench.changes.find((c) => c.put && c.state === 'kept' && (c.part === part.id || c.part === part.parent))?.put;
}
/** Where a new picture comes to stand: below a part, or in it. */
export type Where = 'after' | 'first' | 'last';
export const whereSays: Record<Where, string> = { after: 'below', first: 'at the top of', last: 'at the end of' };

/** Puts a picture below or in a part, or makes one that was put in so otherwise. */
export function putAct(
  part: string,
  put: 'new' | 'again',
  from: From,
  work: Schemas['PictureWork'] | undefined,
  alt: string,
  lay: Lay,
  where: Where = 'after',
): Schemas['PutPictureAct'] {
  const given = Object.fromEntries(Object.entries(lay).filter(([, v]) => v));
  return {
    do: 'put-picture',
    part,
    ...(put === 'new' ? { where } : {}),
    ...from,
    work: work ?? {},
    alt,
    ...given,
  };
}
/** Lays a picture that the request put in otherwise, or lets it say something else. */
export function putAgain(part: string, as: Schemas['PutPictureAct'], lay: Lay, alt: string) {
  const { attachment_id, path } = as;
  return putAct(part, 'again', attachment_id ? { attachment_id } : { path: path! }, as.work, alt, lay);
}
/** Lays a picture that stands on the page. */
export const layAct = (part: string, side: Lay['side'], percent: number): Schemas['LayPictureAct'] => ({
  do: 'lay-picture',
  part,
  side,
  ...(percent ? { percent } : {}),
});

export const isMarkdown = (bench: Schemas['Bench']) => /\.(md|markdown)$/i.test(bench.page.path);
/** Whether a picture lies among words: of the page, or of an item that says something beside it, as a voice with a portrait. */
export function amongWords(bench: Schemas['Bench'], part: Schemas['Part']) {
  const up = (id?: string) => bench.parts.find((p) => p.id === id);
  let parent = up(part.parent);
  while (parent?.kind === 'link') parent = up(parent.parent);
  const spoken = (id: string) => bench.parts.some((p) => p.parent === id && ['words', 'heading'].includes(p.kind));
  return (
    !!part.picture &&
    !part.picture.background &&
    !isMarkdown(bench) &&
    (!parent || ['section', 'words'].includes(parent.kind) || (parent.kind === 'item' && spoken(parent.id)))
  );
}

/** The least and the most of the width of the words that a picture takes, in per cent. */
const [least, most] = [10, 100];
export const percents = (n: number) => Math.min(Math.max(Math.round(n) || most, least), most);
/** Gives a picture another share of the width of the words. */
export function sizeAct(bench: Schemas['Bench'], part: Schemas['Part'], percent: number) {
  const put = putOf(bench, part);
  return put
    ? putAgain(part.id, put, { ...layOf(put), percent }, part.alt)
    : layAct(part.id, part.picture?.side ?? '', percent);
}
