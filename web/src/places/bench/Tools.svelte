<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { keys } from '../../look/keys.svelte';
  import Key from '../../look/Key.svelte';
  import Segments from '../../look/Segments.svelte';
  import PagePick from '../../parts/find/PagePick.svelte';
  import { widths, type Width } from './widths';

  /** The row above the page: which page, whether it is live or draft, and how it is shown. */
  let {
    page,
    parts,
    asLive,
    seesLive,
    view = $bindable(),
    listing = $bindable(),
    width = $bindable(),
    onpick,
  }: {
    page: Schemas['PageRow'];
    parts: number;
    asLive: boolean;
    seesLive: boolean;
    view: 'live' | 'draft' | 'both';
    listing: boolean;
    width: Width;
    onpick: (page: number) => void;
  } = $props();
</script>

<div class="tools">
  <PagePick site={page.site_id} current={page} {onpick} />
  <Segments
    label="What is shown"
    choices={[
      { value: 'live', label: 'Live' },
      { value: 'draft', label: 'Draft' },
      { value: 'both', label: 'Both' },
    ]}
    bind:value={view}
  />
  {#if keys.on}<span class="soft small hold" title="Hold it, and the live page is seen through the draft"
      >hold <Key k="L" /></span
    >{/if}
  <span class="now" class:is-live={asLive} class:is-kept={!asLive}>
    {#if view === 'both'}live left, draft right{:else if seesLive}this is live{:else if asLive}nothing changed here{:else}draft,
      not live{/if}
  </span>
  <span class="soft small reach">
    <button class="plain" aria-expanded={listing} onclick={() => (listing = !listing)}
      >{parts} parts <Key k="P" /></button
    >
    <Segments label="Width of the page, in pixels" choices={widths} bind:value={width} /><Key k="W" />
  </span>
</div>

<style>
  .tools {
    display: flex;
    align-items: center;
    gap: var(--step-3);
    margin-bottom: var(--step-2);
    min-width: 0;
  }
  .hold {
    white-space: nowrap;
  }
  .now {
    font-weight: 600;
    font-size: var(--size-m);
    white-space: nowrap;
  }
  .reach {
    margin-left: auto;
    display: flex;
    align-items: center;
    gap: var(--step-3);
    white-space: nowrap;
  }
  .plain {
    cursor: pointer;
  }
  .plain:hover {
    color: var(--ink);
  }
</style>
