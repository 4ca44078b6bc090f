<script lang="ts">
  import type { Schemas } from '../api/client';
  import Runs from './Runs.svelte';

  /** What others changed on a page, part by part. */
  let { differences }: { differences: Schemas['PageDifference'][] } = $props();
</script>

<ul>
  {#each differences as d, i (i)}<li>
      {#if d.words.length}{d.name}: <Runs runs={d.words} />{:else}{d.say}{/if}
    </li>{/each}
</ul>

<style>
  ul {
    max-height: 160px;
    overflow: auto;
    overflow-wrap: anywhere;
  }
</style>
