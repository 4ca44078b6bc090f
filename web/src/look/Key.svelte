<script lang="ts">
  import { keys } from './keys.svelte';

  /** The key that acts here: the letter alone, or while one writes the chord that works in a field. */
  let { k }: { k: string } = $props();
</script>

{#if keys.on}<kbd aria-hidden="true">{keys.writing ? 'Ctrl Alt ' : ''}{k}</kbd>{/if}
