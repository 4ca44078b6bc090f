<script lang="ts" generics="T">
  import type { Snippet } from 'svelte';
  import type { Asked } from '../api/asked.svelte';

  /** Shows something that is asked for: that it is on its way, what went wrong, and the thing itself. */
  let {
    of,
    say = 'One moment…',
    small = false,
    children,
  }: {
    of: Asked<T>;
    say?: string;
    /** It is a part of a page, not the page. */
    small?: boolean;
    children?: Snippet<[T]>;
  } = $props();
</script>

{#if of.problem}<div class={{ page: !small }}><p class={['said', { small }]} role="alert">{of.problem}</p></div>{/if}
{#if of.got !== undefined}
  {@render children?.(of.got)}
{:else if !of.problem}
  <p class={['soft', small ? 'small' : 'page']} role="status">{say}</p>
{/if}
