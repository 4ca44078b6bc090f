<script lang="ts" generics="T">
  import { words } from '../api/client';

  /** Shows something that is being fetched, what went wrong, or the thing itself. */
  let { from, children }: { from: Promise<T>; children: import('svelte').Snippet<[T]> } = $props();
</script>

{#await from}
  <p class="page soft" role="status">One moment…</p>
{:then it}
  {@render children(it)}
{:catch e}
  <div class="page"><p class="said" role="alert">{words(e)}</p></div>
{/await}
