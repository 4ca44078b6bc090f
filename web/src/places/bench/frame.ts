/** What a previewed page says to the bench, and what the bench says to it. */
export type Look = 'hover' | 'now' | 'kept' | 'old' | 'new' | 'locked';
export interface Mark {
  id: string;
  look: Look;
}
export interface Places {
  at: Record<string, [top: number, height: number]>;
  height: number;
  scroll: number;
}
export type FromFrame =
  | { say: 'point'; id: string }
  | { say: 'over'; id: string }
  | ({ say: 'places'; ready: boolean } & Places)
  | { say: 'scroll'; scroll: number }
  | { say: 'stale' }
  | { say: 'keydown' | 'keyup'; key: string; repeat: boolean };
export type ToFrame =
  | { do: 'marks'; marks: Mark[]; pointing: boolean }
  | { do: 'scroll'; scroll: number }
  | { do: 'show'; id: string }
  | { do: 'words'; id: string; html: string };
