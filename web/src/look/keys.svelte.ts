/** Single-letter shortcuts. They are shown where they act and can be switched off. */
const stored = 'mendry.keys';

export const keys = $state({ on: localStorage.getItem(stored) !== 'off' });

export function switchKeys(on: boolean) {
  keys.on = on;
  localStorage.setItem(stored, on ? 'on' : 'off');
}

/** How long after a key was typed, in ms, a letter is still taken for typing that went astray. */
const astray = 1000;
let typed = -Infinity; // when a key was last typed into something
let under = 0; // acts that are under way

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

function typing(e: Event) {
  const t = e.target as HTMLElement | null;
  return !!t?.closest?.('input, textarea, select, [contenteditable]');
}

/** Handles a letter, also one that a frame passed on; reports whether it acts. */
export function press(acts: Acts, key: string, down: boolean, repeat: boolean): boolean {
  if (!keys.on || repeat) return false;
  if (down && key.length === 1 && (under > 0 || performance.now() - typed < astray)) {
    typed = performance.now(); // a whole word goes astray, not its first letter
    return false;
  }
  const act = acts[key.length === 1 ? key.toLowerCase() : key];
  act?.(down);
  return !!act;
}

/** Attaches acts to letters for as long as a component lives. */
export function onKeys(acts: () => Acts) {
  $effect(() => {
    const down = (e: KeyboardEvent) => {
      if (typing(e)) typed = performance.now();
      if (e.ctrlKey || e.metaKey || e.altKey || typing(e) || document.querySelector('[role=dialog]:not([hidden])'))
        return;
      // A letter that opens a field is not typed into it.
      if (press(acts(), e.key, true, e.repeat) && e.key.length === 1) e.preventDefault();
    };
    const up = (e: KeyboardEvent) => press(acts(), e.key, false, false);
    addEventListener('keydown', down);
    addEventListener('keyup', up);
    return () => {
      removeEventListener('keydown', down);
      removeEventListener('keyup', up);
    };
  });
}
