<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { keys } from '../../look/keys.svelte';
  import Key from '../../look/Key.svelte';
  import PagePick from '../../parts/find/PagePick.svelte';

  /** The row above the page: which page, whether it is live or draft, and how it is shown. */
  let {
    page,
    parts,
    asLive,
    seesLive,
    view = $bindable(),
    listing = $bindable(),
    wide = $bindable(),
    onpick,
  }: {
    page: Schemas['PageRow'];
    parts: number;
    asLive: boolean;
    seesLive: boolean;
    view: 'live' | 'draft' | 'both';
    listing: boolean;
    wide: boolean;
    onpick: (page: number) => void;
  } = $props();
</script>

<div class="tools">
  <PagePick site={page.site_id} current={page} {onpick} />
  <div class="seg" role="group" aria-label="What is shown">
    {#each ['live', 'draft', 'both'] as const as v (v)}
      <button aria-pressed={view === v} onclick={() => (view = v)}>{v[0]!.toUpperCase() + v.slice(1)}</button>
    {/each}
  </div>
  <span class="now" class:is-live={asLive} class:is-kept={!asLive}>
    {#if view === 'both'}live on the left, draft on the right{:else if seesLive}this is live{:else if asLive}nothing
      changed here{:else}draft, not live{/if}
  </span>
  <span class="soft small keys">
    {#if keys.on}<span>{keys.writing ? 'Ctrl Alt with' : 'hold'} <Key k="L" /> for live</span>{/if}
    <button class="plain" aria-expanded={listing} onclick={() => (listing = !listing)}
      >{parts} parts <Key k="P" /></button
    >
    <button class="plain" aria-pressed={wide} onclick={() => (wide = !wide)}>wide <Key k="W" /></button>
  </span>
</div>

<style>
  .tools {
    display: flex;
    align-items: center;
    gap: 12px;
    margin-bottom: 9px;
    min-width: 0;
  }
  .seg {
    flex: none;
    display: inline-flex;
    border: 1.5px solid var(--ink);
    border-radius: var(--radius);
    overflow: hidden;
    font-size: 14px;
    background: var(--paper);
  }
  .seg button {
    padding: 4px 12px;
    cursor: pointer;
  }
  .seg button[aria-pressed='true'] {
    background: var(--ink);
    color: #fff;
  }
  .seg button:focus-visible {
    outline-offset: -3px;
  }
  .now {
    font-weight: 600;
    font-size: 14px;
    white-space: nowrap;
  }
  .keys {
    margin-left: auto;
    display: flex;
    gap: 14px;
    white-space: nowrap;
  }
  .plain {
    cursor: pointer;
  }
  .plain:hover {
    color: var(--ink);
  }
</style>
