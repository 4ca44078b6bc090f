<script lang="ts">
  import { keys } from './keys.svelte';

  /** The letter that acts here. While one writes it acts with Ctrl and Alt; that is said beside it, so that nothing moves
   * under a pointer when the field is left. */
  let { k }: { k: string } = $props();
</script>

{#if keys.on}<kbd aria-hidden="true" title="In a field: Ctrl Alt {k}">{k}</kbd>{/if}
