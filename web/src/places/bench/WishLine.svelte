<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Schemas } from '../../api/client';
  import Tile from '../../parts/Tile.svelte';
  import Letter from '../request/Letter.svelte';

  /** The letter above the bench, in one or two lines. */
  let {
    request,
    current,
    beside,
    onwish,
  }: { request: Schemas['Request']; current?: number; beside: Snippet; onwish: (w: Schemas['Wish']) => void } =
    $props();
  const done = $derived(request.wishes.filter((w) => w.state !== 'open').length);
  let whole = $state(false);
</script>

<div class="wish">
  <a href="/requests/{request.row.number}" aria-label="Back to the letter"
    ><Tile initials={request.row.initials} colour={request.row.colour} /></a
  >
  <div class="text" class:whole><Letter {request} {current} {onwish} /></div>
  {@render beside()}
  <div class="side small soft">
    <a href="/requests/{request.row.number}">request {request.row.number}</a><br />
    {request.wishes.length}
    {request.wishes.length === 1 ? 'wish' : 'wishes'}, {done} done
    <button class="more" aria-expanded={whole} onclick={() => (whole = !whole)}
      >{whole ? 'less' : 'whole letter'}</button
    >
  </div>
</div>

<style>
  .wish {
    display: grid;
    grid-template-columns: auto minmax(0, 1fr);
    grid-auto-columns: max-content;
    grid-auto-flow: column;
    gap: var(--step-4);
    align-items: center;
    padding: var(--step-2) var(--step-5);
    background: var(--paper);
    border-bottom: 1px solid var(--hem);
  }
  .text {
    max-height: 50px;
    overflow: auto;
    scrollbar-width: thin;
  }
  .text :global(.letter) {
    font-size: var(--size);
    line-height: 1.6;
    white-space: normal;
  }
  .whole {
    max-height: 220px;
  }
  .whole :global(.letter) {
    white-space: pre-wrap;
  }
  .side {
    text-align: right;
  }
  .more {
    margin-left: var(--step-2);
    text-decoration: underline;
    cursor: pointer;
  }
</style>
