import type { Component } from 'svelte';
import type { Schemas } from '../../api/client';
import type { Act, BenchPage } from './desk.svelte';
import FilesOf from './files/FilesOf.svelte';
import LinkTarget from './LinkTarget.svelte';
import Behind from './picture/Behind.svelte';
import SetOf from './picture/SetOf.svelte';
import PictureOf from './picture/PictureOf.svelte';
import type { Refused } from './refused.svelte';
import SameWordsOf from './SameWordsOf.svelte';
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

const words = [WordsOf, SameWordsOf, LinkTarget, FilesOf, Behind];

/** The editors of each kind of part, in the order in which they stand. */
const editors: Record<string, Component<EditorProps>[]> = {
  heading: words,
  words,
  link: words,
  button: words,
  cell: [...words, TableActs],
  set: [SetOf, SameWordsOf, LinkTarget, Behind],
  video: [VideoOf],
  embed: [VideoOf],
  picture: [SameWordsOf, LinkTarget, PictureOf],
};

/** The editors of a part; one that is not listed may still lead somewhere. */
export const editorsOf = (kind: string) => editors[kind] ?? [SameWordsOf, LinkTarget, FilesOf, Behind];
