<script lang="ts">
  import { Finder } from '../../parts/find/finder.svelte';
  import Finding from '../../parts/find/Finding.svelte';

  /** Finds a place on a site by page address, title or words that stand there. */
  let {
    site,
    siteName,
    seed,
    onplace,
  }: { site: number; siteName: string; seed: string; onplace: (page: number, part?: string) => void } = $props();

  const finder = new Finder(() => ({ site }));
</script>

<div>
  <Finding
    {finder}
    label="Where on {siteName}?"
    placeholder="words that stand there now, a title, or the end of the address"
    none="Nothing of that kind stands on the site. Try fewer words, or the page’s address."
    onchoose={(f) => onplace(f.page_id, f.part || undefined)}
  />
  {#if seed && !finder.typed}
    <p class="soft small hint">The wish says “{seed.length > 70 ? seed.slice(0, 70) + '…' : seed}”.</p>
  {/if}
</div>

<style>
  .hint {
    padding: var(--step-1h) var(--step-half);
  }
</style>
