<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { arrows } from '../../look/arrows';
  import { keys, onKeys } from '../../look/keys.svelte';
  import { go, route } from '../../router';
  import { Finder } from './finder.svelte';
  import FoundList from './FoundList.svelte';

  /** Finds words on any page of any site, and goes to the bench with what was found. */
  const request = $derived(Number((route.params as { number?: string }).number) || undefined);
  const finder = new Finder(() => ({ request }));
  let field = $state<HTMLInputElement>();
  let root = $state<HTMLElement>();

  onKeys(() => ({ f: (down) => down && field?.focus() }));

  function open(f: Schemas['Found']) {
    finder.typed = '';
    (document.activeElement as HTMLElement | null)?.blur();
    const at = `${f.part ? `part=${f.part}` : ''}`;
    if (f.request) go(`/requests/${f.request}/bench/${f.page_id}${at && '?' + at}`);
    else go(`/requests/new?site=${f.site_id}&page=${f.page_id}${at && '&' + at}`);
  }
</script>

<svelte:window
  onpointerdown={(e) => {
    if (!root?.contains(e.target as Node)) finder.typed = '';
  }}
/>
<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="find"
  bind:this={root}
  use:arrows
  onkeydown={(e) => {
    if (e.key === 'Escape') {
      finder.typed = '';
      (document.activeElement as HTMLElement | null)?.blur();
    } else if (e.key === 'Enter' && e.target === field && finder.found?.[0]) open(finder.found[0]);
  }}
>
  <input
    bind:this={field}
    bind:value={finder.typed}
    aria-label="Find words on any page of any site"
    placeholder="Find words on any page of any site"
    maxlength="200"
    autocomplete="off"
    spellcheck="false"
  />
  {#if keys.on && !keys.writing}<kbd>F</kbd>{/if}
  {#if finder.found || finder.problem}
    <div class="results">
      {#if finder.problem}<p class="said small" role="alert">{finder.problem}</p>{/if}
      {#if finder.found}
        <FoundList
          found={finder.found}
          sites
          none="Nothing of that kind stands on any page. Try fewer words, or the end of the page’s address."
          onchoose={open}
        />
      {/if}
    </div>
  {/if}
</div>

<style>
  .find {
    position: relative;
    flex: 1;
    min-width: 150px;
    max-width: 430px;
  }
  input {
    width: 100%;
    height: 36px;
    padding: 0 40px 0 12px;
    border: 1px solid #45517f;
    border-radius: var(--radius);
    background: #222c55;
    color: #fff;
  }
  input::placeholder {
    color: #cfd6ea;
    opacity: 1;
    text-overflow: ellipsis;
  }
  kbd {
    position: absolute;
    right: 10px;
    top: 8px;
    color: #cfd6ea;
  }
  .results {
    position: absolute;
    z-index: 40;
    top: 40px;
    left: 0;
    width: min(640px, 90vw);
    white-space: normal;
    color: var(--ink);
    box-shadow: 0 6px 18px #1a213633;
  }
  .results :global(ul) {
    border-top: 1px solid var(--hem);
    max-height: min(70vh, 560px);
  }
  .results :global(:focus-visible) {
    outline-color: var(--indigo);
  }
</style>
