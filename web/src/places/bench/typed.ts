import type { Schemas } from '../../api/client';

type Act = Schemas['Act'];

/** An act that gives one thing of the page other words, as somebody types them. */
export type Typed =
  | Schemas['WordsAct']
  | Schemas['MarkupAct']
  | Schemas['AttributeAct']
  | Schemas['FactAct']
  | Schemas['CaptionAct']
  | Schemas['LinkPictureAct'];

/** The words that such an act gives. */
export function wordsIn(act: Act): string {
  if (act.do === 'markup') return act.html;
  if (act.do === 'link-picture') return act.href;
  return 'words' in act ? (act.words ?? '') : '';
}

/** The act with other words. */
export function withWords<A extends Act>(act: A, words: string): A {
  if (act.do === 'markup') return { ...act, html: words };
  if (act.do === 'link-picture') return { ...act, href: words };
  return { ...act, words };
}

/** The act for the part as it is called on another draft; undefined where it is gone. */
export function saidBy<A extends Act>(act: A, to: (id: string) => string | undefined): A | undefined {
  if (!('part' in act) || !act.part) return act;
  const part = to(act.part);
  return part ? { ...act, part } : undefined;
}

/** What stands on the page where the act gives other words; undefined where there is no such part. */
export function wordsOn(bench: Schemas['Bench'], act: Act): string | undefined {
  if (act.do === 'fact') return act.name === 'title' || act.name === 'description' ? bench.facts[act.name] : undefined;
  const part = 'part' in act ? bench.parts.find((p) => p.id === act.part) : undefined;
  if (!part) return undefined;
  switch (act.do) {
    case 'words':
      return part.text;
    case 'markup':
      return part.edit;
    case 'caption':
      return part.picture?.caption ?? '';
    case 'link-picture':
      return part.picture?.link ?? '';
    case 'attribute':
      return act.name === 'href' || act.name === 'alt' || act.name === 'title' ? part[act.name] : undefined;
    default:
      return undefined;
  }
}

/** Whether two wordings of a thing may be put together: not of an address. */
export const mergeable = (act: Typed) => act.do !== 'link-picture' && !(act.do === 'attribute' && act.name === 'href');
