<script lang="ts">
  import { arrows } from '../../look/arrows';
  import { Finder } from '../../parts/find/finder.svelte';
  import FoundList from '../../parts/find/FoundList.svelte';

  /** Finds a place on a site by page address, title or words that stand there. */
  let {
    site,
    siteName,
    seed,
    onplace,
  }: { site: number; siteName: string; seed: string; onplace: (page: number, part?: string) => void } = $props();

  const finder = new Finder(() => ({ site }));
</script>

<div role="group" aria-label="Find the place" use:arrows>
  <label class="field">
    <span>Where on {siteName}?</span>
    <input
      class="box"
      bind:value={finder.typed}
      placeholder="words that stand there now, a title, or the end of the address"
    />
  </label>
  {#if seed && !finder.typed}
    <p class="soft small hint">The wish says “{seed.length > 70 ? seed.slice(0, 70) + '…' : seed}”.</p>
  {/if}
  {#if finder.problem}<p class="said">{finder.problem}</p>{/if}
  {#if finder.found}
    <FoundList
      found={finder.found}
      none="Nothing of that kind stands on the site. Try fewer words, or the page’s address."
      onchoose={(f) => onplace(f.page_id, f.part || undefined)}
    />
  {/if}
</div>

<style>
  .hint {
    padding: 6px 2px;
  }
</style>
