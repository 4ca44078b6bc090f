/** What a previewed page says to the bench, and what the bench says to it. */
export type Look = 'hover' | 'now' | 'kept' | 'old' | 'new' | 'locked' | 'theirs';
export interface Mark {
  id: string;
  look: Look;
  /** Of what is in hand: the parts that open what it stands in, from the outside in. */
  open?: string[];
}
/** Where the picture in hand stands on its page, and how wide the room is that it stands in, in pixels of the page. */
export interface Sized {
  id: string;
  left: number;
  top: number;
  width: number;
  height: number;
  wide: number;
  /** It is shown as somebody just now tries it, not as the page has it. */
  tried: boolean;
}
export interface Places {
  at: Record<string, [top: number, height: number]>;
  sized?: Sized;
  height: number;
  scroll: number;
}
/** How large a picture is shown, how it is fitted, and whether its place has a shape of its own. */
export type Shown = [width: number, height: number, fit: string, own: boolean];
/** A part, or a block that is known by its key, and how far into its words. */
interface At {
  id: string;
  key?: string;
  at?: number;
}
/** What was pointed at. */
export interface Pointed extends At {
  /** The draft that the page shows, by which the part has its name. */
  draft?: string;
  /** The part that it stands in. */
  around?: At;
  /** The picture that lies under it. */
  under?: string;
  /** It answers a click that was made again. */
  again?: boolean;
}
/** A click, so that it can be made again on a page that took the place of the one that was clicked. */
export interface Click extends Pointed {
  x: number;
  y: number;
  scroll: number;
  gist: string;
  tag: string;
}
export type FromFrame = { mendry?: boolean; load: number; draft?: string } & Said;
type Said =
  | ({ say: 'point' } & Click)
  | { say: 'over'; id: string }
  | ({ say: 'places'; ready: boolean } & Places)
  | { say: 'scroll' | 'here'; scroll: number }
  | { say: 'stale' }
  | { say: 'told'; n: number }
  | { say: 'pictures'; pictures: Record<string, Shown | undefined> }
  | { say: 'keydown' | 'keyup'; key: string; repeat: boolean };
export type ToFrame =
  | { do: 'marks'; marks: Mark[]; pointing: boolean }
  | { do: 'scroll'; scroll: number }
  | { do: 'show'; id: string }
  | { do: 'where' }
  | { do: 'tell'; n: number }
  | { do: 'size'; id: string; percent?: number }
  | { do: 'pictures'; behind?: string }
  | { do: 'click'; at: Click }
  | { do: 'words'; id: string; html: string }
  | { do: 'run'; hand: string; blocks: { key: string; part?: string; form?: string; html?: string }[] };
