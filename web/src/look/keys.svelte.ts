/** Single-letter shortcuts. They are shown where they act and can be switched off. */
const stored = 'mendry.keys';

export const keys = $state({ on: localStorage.getItem(stored) !== 'off' });

export function switchKeys(on: boolean) {
  keys.on = on;
  localStorage.setItem(stored, on ? 'on' : 'off');
}

type Acts = Record<string, (down: boolean) => void>;

function typing(e: Event) {
  const t = e.target as HTMLElement | null;
  return !!t?.closest?.('input, textarea, select, [contenteditable]');
}

/** Handles a letter that a frame passed on. */
export function press(acts: Acts, key: string, down: boolean, repeat: boolean) {
  if (!keys.on || repeat) return;
  acts[key.length === 1 ? key.toLowerCase() : key]?.(down);
}

/** Attaches acts to letters for as long as a component lives. */
export function onKeys(acts: () => Acts) {
  $effect(() => {
    const down = (e: KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey || typing(e) || document.querySelector('[role=dialog]')) return;
      press(acts(), e.key, true, e.repeat);
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
