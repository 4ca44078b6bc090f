<script lang="ts">
  import { keys } from './keys.svelte';

  /** The key that acts here: the letter, or while one writes the chord that works in a field; alone where that is said beside it. */
  let { k, alone = false }: { k: string; alone?: boolean } = $props();
</script>

{#if keys.on}<kbd aria-hidden="true">{keys.writing && !alone ? 'Ctrl Alt ' : ''}{k}</kbd>{/if}
