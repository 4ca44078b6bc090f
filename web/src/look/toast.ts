import { createToaster } from '@skeletonlabs/skeleton-svelte';
import { words } from '../api/client';

export const toaster = createToaster({ placement: 'bottom-end' });

/** Says what went wrong; it stays until it is put away. */
export function complain(e: unknown) {
  refuse(words(e));
}

/** Says what cannot be done, in words. */
export function refuse(title: string) {
  toaster.error({ title, duration: 12_000 });
}

export function say(title: string) {
  toaster.success({ title, duration: 4000 });
}
