/** Lets the arrow keys walk through the fields and buttons of a list. */
export function arrows(root: HTMLElement) {
  const step = (e: KeyboardEvent) => {
    if (e.key !== 'ArrowDown' && e.key !== 'ArrowUp') return;
    const all = [...root.querySelectorAll<HTMLElement>('input, li button')];
    const to = all[all.indexOf(document.activeElement as HTMLElement) + (e.key === 'ArrowDown' ? 1 : -1)];
    if (!to) return;
    e.preventDefault();
    to.focus();
  };
  root.addEventListener('keydown', step);
  return { destroy: () => root.removeEventListener('keydown', step) };
}
