<script lang="ts">
  import type { Schemas } from '../api/client';

  let { runs }: { runs: Schemas['Run'][] } = $props();
</script>

<!-- prettier-ignore -->
<span class="runs">{#each runs as r, i (i)}{#if r.is === 'gone'}<del><span class="unseen">gone: </span>{r.text}</del> {:else if r.is === 'new'}<ins><span class="unseen">new: </span>{r.text}</ins>{:else}{r.text}{/if}{/each}</span>

<style>
  .runs {
    overflow-wrap: anywhere;
    white-space: pre-line;
  }
</style>
