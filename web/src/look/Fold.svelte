<script lang="ts">
  import { Collapsible } from '@skeletonlabs/skeleton-svelte';
  import type { Snippet } from 'svelte';

  /** A button and what it unfolds below itself. */
  let {
    title = '',
    head,
    look = 'btn slim quiet',
    open = $bindable(false),
    onopen,
    children,
  }: {
    title?: string;
    /** In the place of the title. */
    head?: Snippet;
    look?: string;
    open?: boolean;
    onopen?: () => void;
    children: Snippet;
  } = $props();
</script>

<Collapsible
  class="fold"
  {open}
  onOpenChange={(d) => {
    open = d.open;
    if (open) onopen?.();
  }}
>
  <Collapsible.Trigger class={look}
    >{#if head}{@render head()}{:else}{title}{/if}</Collapsible.Trigger
  >
  <Collapsible.Content
    >{#if open}{@render children()}{/if}</Collapsible.Content
  >
</Collapsible>

<style>
  :global(.fold.fold) {
    display: block;
    width: 100%;
  }
</style>
