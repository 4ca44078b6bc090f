import type { Component } from 'svelte';
import type { Schemas } from '../../api/client';
import type { Act, BenchPage } from './desk.svelte';
import ColumnsOf from './columns/ColumnsOf.svelte';
import FilesOf from './files/FilesOf.svelte';
import LinkTarget from './LinkTarget.svelte';
import IconsOf from './looks/IconsOf.svelte';
import LooksOf from './looks/LooksOf.svelte';
import MarkupOf from './markup/MarkupOf.svelte';
import Behind from './picture/Behind.svelte';
import PictureOf from './picture/PictureOf.svelte';
import type { Refused } from './refused.svelte';
import SameWordsOf from './SameWordsOf.svelte';
import { sharedRoot } from './shared';
import SetOf from './sets/SetOf.svelte';
import TableActs from './TableActs.svelte';
import VideoOf from './video/VideoOf.svelte';
import WordsOf from './WordsOf.svelte';

/** What every editor of a part gets. */
export interface EditorProps {
  bench: Schemas['Bench'];
  desk: BenchPage;
  request: Schemas['Request'];
  part: Schemas['Part'];
  wish?: number;
  /** Makes a change and goes on in the part that it made. */
  act: (act: Act) => void;
  /** What would be refused. */
  refused: Refused;
  /** Takes another part in hand, or none. */
  onchoose: (id: string | undefined) => void;
}

const words = [WordsOf, SameWordsOf, LinkTarget, LooksOf, IconsOf, FilesOf, Behind];

/** The editors of each kind of part, in the order in which they stand. */
const editors: Record<string, Component<EditorProps>[]> = {
  heading: words,
  words,
  link: words,
  button: words,
  cell: [...words, TableActs],
  set: [SetOf, SameWordsOf, LinkTarget, LooksOf, Behind],
  item: [SameWordsOf, LinkTarget, LooksOf, IconsOf, FilesOf, Behind],
  video: [VideoOf],
  embed: [VideoOf],
  picture: [SameWordsOf, LinkTarget, PictureOf, ColumnsOf],
  section: [SameWordsOf, LinkTarget, LooksOf, FilesOf, Behind, ColumnsOf],
};

/** Whether a part has a field for its words. */
export const ofWords = (part: Schemas['Part']) => editors[part.kind]?.[0] === WordsOf && !part.locked;

/** Whether a part that is taken in hand opens a field for its words at once: where it is shared, on which pages is asked. */
export function opensWords(parts: Schemas['Part'][], part: Schemas['Part']) {
  const root = sharedRoot(parts, part);
  return ofWords(part) && (!root || !!root.reach);
}

/** The editors of a part; one that is not listed may still lead somewhere. Its markup comes last. */
export const editorsOf = (kind: string) => [...(editors[kind] ?? [SameWordsOf, LinkTarget, FilesOf, Behind]), MarkupOf];
