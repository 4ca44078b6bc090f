import { flushSync } from 'svelte';
import { ahead } from './ahead';
import { drawer } from './drawer';
import { refuse } from './toast';

/** Single-letter shortcuts. They are shown where they act and can be switched off. */
const stored = 'mendry.keys';

export const keys = $state({
  on: drawer.get(stored) !== 'off',
  /** Something that can be written in has the focus. */
  writing: false,
});

export function switchKeys(on: boolean) {
  keys.on = on;
  drawer.put(stored, on ? 'on' : 'off');
}

/** How long after a key was typed, in ms, a letter is still taken for typing that went astray. */
const astray = 1000;
let typed = -Infinity; // when a key was last typed into something
let acted = ''; // the letter that acted last: pressed again it acts again
let lost = ''; // letters that were typed where nothing takes words
const most = 3; // of them, after which that is said
let under = 0; // acts that are under way
let places = 0; // that are shown, on which words are typed

/** Lets no letter act until something is done: what is typed meanwhile was meant for what comes of it. */
export async function hushed<T>(doing: Promise<T>): Promise<T> {
  under++;
  try {
    return await doing;
  } finally {
    under--;
    typed = performance.now();
  }
}

type Acts = Record<string, (down: boolean) => void>;

const written =
  'input:not([type=radio], [type=checkbox], [type=range], [type=file]), textarea, select, [contenteditable]';

/** Something that is asked before all else. */
const asks = '[role=dialog]:not([hidden])';

const pressing = /^( |Enter|Arrow.*)$/;
/** Keys that may be meant for what was pointed at. */
const meant = /^(.|Enter|Backspace|Delete|Arrow(Left|Right|Up|Down)|Home|End)$/u;
type Ask = () => Promise<unknown> | undefined;
let asking: Ask[] = [];
let unsure: KeyboardEvent[] = []; // of which it is asked whether something was pointed at before
const again = new WeakSet<Event>();

/** A frame tells late what is pointed at in it. `ask` is called when a key goes down, and waits until all is told; it gives
 * nothing where nothing can have been pointed at. Until then no key acts. */
export function pointedAt(ask: Ask) {
  asking.push(ask);
  return () => void (asking = asking.filter((a) => a !== ask));
}

/** Nobody points at something and comes back to the keys within so many ms. */
const goesOn = 250;
let lastIn = -Infinity; // when a key went down in a field last
const fields = new WeakMap<Element, () => void>();

/** A field in which keys may wait: `take` types them, in the place of the browser. */
export function keysWait(field: Element, take: () => void) {
  fields.set(field, take);
}

function askFor(e: KeyboardEvent) {
  if (ahead.waits || again.has(e) || e.ctrlKey || e.metaKey || e.altKey || e.isComposing || !meant.test(e.key)) return;
  const at = document.activeElement ?? document.body;
  const into = fields.get(at);
  // What has the focus takes its keys itself; a button none but those that press it, or lead from it to another one.
  if (!into && at !== document.body && !(at.matches('button, a, summary') && !pressing.test(e.key))) return;
  if (into && performance.now() - lastIn < goesOn) return;
  const told = asking.map((ask) => ask()).find(Boolean);
  if (!told) return;
  ahead.doubts();
  const keys: KeyboardEvent[] = (unsure = []);
  void told.then(() => {
    if (unsure !== keys) return; // it was known before, and is asked again by now
    unsure = [];
    if (into && ahead.unsure && at.isConnected) into();
    else if (ahead.sure()) typed = performance.now();
    else keys.forEach(onceMore);
  });
}

/** Lets a key do what it would have done, had it not been held: it acts, or is typed into the field that one before it has
 * opened. */
function onceMore(e: KeyboardEvent) {
  flushSync();
  const at = (document.activeElement ?? document.body) as HTMLElement;
  const copy = new KeyboardEvent(e.type, e);
  again.add(copy);
  if (!at.dispatchEvent(copy) || e.type !== 'keydown') return;
  if (!at.matches(written)) {
    if (at !== document.body && /^( |Enter)$/.test(e.key)) at.click();
    return;
  }
  // The one way to type by program that a field takes as typed: it tells its listeners, and can be undone.
  if (e.key === 'Backspace') document.execCommand('delete');
  else if ([...e.key].length === 1) document.execCommand('insertText', false, e.key);
}

function typing(e: Event) {
  const t = e.composedPath()[0] as HTMLElement | undefined; // what is behind a shadow root, not that which holds it
  return !!t?.closest?.(written);
}
if (typeof document !== 'undefined') {
  // What loses the focus by being taken away does so in the middle of an update, when nothing may change.
  const write = (now: boolean) => queueMicrotask(() => (keys.writing = now));
  document.addEventListener('focusin', (e) => write(typing(e)));
  document.addEventListener('focusout', () => write(false));
  addEventListener(
    'keydown',
    (e) => {
      if (document.querySelector(asks)) return;
      askFor(e);
      if (typing(e)) lastIn = performance.now();
      if (typing(e) && !ahead.unsure) return;
      if (!ahead.takes(e)) return;
      if (ahead.unsure) unsure.push(e);
      else typed = performance.now();
      e.preventDefault();
      e.stopImmediatePropagation();
    },
    true,
  );
  addEventListener(
    'keyup',
    (e) => {
      if (!unsure.some((k) => k.code === e.code)) return;
      unsure.push(e);
      e.stopImmediatePropagation();
    },
    true,
  );
}

/** The letter of a chord that acts also in a field: Ctrl and Alt with it, and not the key that writes third signs. */
function chorded(e: KeyboardEvent): string | undefined {
  if (!e.ctrlKey || !e.altKey || e.metaKey || e.getModifierState('AltGraph')) return undefined;
  return /^Key[A-Z]$/.test(e.code) ? e.code.slice(3).toLowerCase() : undefined;
}

const judged = new WeakMap<Event, boolean>();

/** Whether a letter may act, and is not typed into something that is not there. */
function mayAct(letter: string): boolean {
  const now = performance.now();
  const goesOn = now - typed < astray;
  if (under > 0 || (goesOn && letter !== acted)) {
    typed = now; // a whole word goes astray, not its first letter
    acted = '';
    lost = goesOn ? lost + letter : letter;
    if (lost.length === most && !under) refuse('Nothing that takes words is in hand: click some on the page first.');
    return false;
  }
  if (places) typed = now;
  acted = lost = letter;
  return true;
}

/** Handles a letter, also one that a frame passed on; reports whether it acts. A chord is meant, whatever was typed before. */
export function press(acts: Acts, key: string, down: boolean, repeat: boolean, chord = false, e?: Event): boolean {
  if (!keys.on || repeat) return false;
  const name = key.length === 1 ? key.toLowerCase() : key;
  if (down && !chord && key.length === 1) {
    const may = (e && judged.get(e)) ?? mayAct(name);
    if (e) judged.set(e, may);
    if (!may) return false;
  }
  const act = acts[name];
  act?.(down);
  return !!act;
}

/** From now on until it is left, words are typed on the place that is shown: letters in a row are some that went astray. */
export function wordsHere() {
  places++;
  return () => void places--;
}

/** Attaches acts to letters for as long as a component lives. */
export function onKeys(acts: () => Acts) {
  $effect(() => {
    const down = (e: KeyboardEvent) => {
      const chord = chorded(e);
      if (chord && !document.querySelector(asks)) {
        if (press(acts(), chord, true, e.repeat, true)) e.preventDefault();
        return;
      }
      if (typing(e)) typed = performance.now();
      if (e.ctrlKey || e.metaKey || e.altKey || typing(e) || document.querySelector(asks)) return;
      // A letter that opens a field is not typed into it; an arrow that acts does not scroll.
      const own = e.key.length === 1 || e.key.startsWith('Arrow');
      if (press(acts(), e.key, true, e.repeat, false, e) && own) e.preventDefault();
    };
    const up = (e: KeyboardEvent) => press(acts(), chorded(e) ?? e.key, false, false);
    addEventListener('keydown', down);
    addEventListener('keyup', up);
    return () => {
      removeEventListener('keydown', down);
      removeEventListener('keyup', up);
    };
  });
}
