<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { keys, onKeys } from '../../look/keys.svelte';
  import { go, route } from '../../router';
  import { Finder } from './finder.svelte';
  import Finding from './Finding.svelte';

  /** Finds words on any page of any site, and goes to the bench with what was found. */
  const request = $derived(Number((route.params as { number?: string }).number) || undefined);
  const finder = new Finder(() => ({ request }));
  let field = $state<HTMLElement>();

  onKeys(() => ({ f: (down) => down && field?.querySelector('input')?.focus() }));

  function open(f: Schemas['Found']) {
    const at = `${f.part ? `part=${f.part}` : ''}`;
    if (f.request) go(`/requests/${f.request}/bench/${f.page_id}${at && '?' + at}`);
    else go(`/requests/new?site=${f.site_id}&page=${f.page_id}${at && '&' + at}`);
  }
</script>

<div class="find">
  <Finding
    {finder}
    bind:field
    bare
    sites
    label="Find words on any page of any site"
    placeholder="Find words on any page of any site"
    none="Nothing of that kind stands on any page. Try fewer words, or the end of the page’s address."
    onchoose={open}
  />
  {#if keys.on && !keys.writing}<kbd>F</kbd>{/if}
</div>

<style>
  .find {
    position: relative;
    flex: 1;
    min-width: 150px;
    max-width: 430px;
  }
  kbd {
    position: absolute;
    right: 10px;
    top: 8px;
    color: var(--bar-ink);
    pointer-events: none;
  }
</style>
