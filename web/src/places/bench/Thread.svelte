<script lang="ts">
  import type { Schemas } from '../../api/client';
  import Key from '../../look/Key.svelte';
  import { keys } from '../../look/keys.svelte';
  import Knot from './Knot.svelte';
  import { byPage } from './thread';

  /** The changes of a request in order: each on this page is a knot, those of each other page one. */
  let {
    number,
    notes,
    changes,
    current,
    page,
    busy,
    onopen,
    onpage,
    onundo,
    onback,
    onlast,
    onproof,
  }: {
    number: number;
    notes: Schemas['ClientNote'][];
    changes: Schemas['Change'][];
    current?: number;
    page: number;
    busy: boolean;
    onopen: (c: Schemas['Change']) => void;
    onpage: (page: number) => void;
    onundo: (c: Schemas['Change']) => void;
    onback: (c: Schemas['Change']) => void;
    onlast: () => void;
    onproof: () => void;
  } = $props();
  const kept = $derived(changes.some((c) => c.state === 'kept'));
  const groups = $derived(byPage(changes, page));
  const last = $derived(groups.here.findLast((c) => c.state === 'kept'));
  let list = $state<HTMLElement>();
  $effect(() => {
    if (changes.length) list?.scrollTo({ left: list.scrollWidth }); // the newest is seen
  });
  const ways = (all: Schemas['Change'][]) => {
    const waiting = all.filter((c) => c.state === 'kept' || c.state === 'going').length;
    const n = `${all.length} ${all.length === 1 ? 'change' : 'changes'}`;
    return !waiting ? `${n}, live` : waiting === all.length ? `${n}, not live` : `${n}, ${waiting} not live`;
  };
</script>

<footer>
  <ol aria-label="The thread of changes" bind:this={list}>
    {#each groups.others as all (all[0]!.page_id)}
      <li class="page" class:live={all.every((c) => c.state !== 'kept' && c.state !== 'going')}>
        <button onclick={() => onpage(all[0]!.page_id)} title={all.map((c) => c.say).join('\n')}>
          <b class="mono">{all[0]!.address}</b>
          <span>{ways(all)}</span>
        </button>
      </li>
    {/each}
    {#each groups.here as c (c.id)}
      <Knot
        {number}
        notes={notes.filter((n) => n.change_id === c.id)}
        change={c}
        current={c.id === current}
        {busy}
        onopen={c.part ? () => onopen(c) : undefined}
        onundo={() => onundo(c)}
        onback={() => onback(c)}
      />
    {:else}
      <li class="soft none">
        {changes.length ? 'Nothing is changed on this page yet.' : 'The thread is empty: nothing is changed yet.'}
      </li>
    {/each}
  </ol>
  <span class="acts">
    {#if keys.on}<span class="small soft chord" class:shown={keys.writing}>Ctrl Alt with</span>{/if}
    <button class="btn" disabled={!last} title={last ? `takes back: ${last.say}` : undefined} onclick={onlast}
      >Undo last here <Key k="U" /></button
    >
    <button class="btn go" disabled={!kept} onclick={onproof}>Make proof <Key k="M" /></button>
  </span>
</footer>

<style>
  footer {
    background: var(--paper);
    border-top: 1px solid var(--hem-strong);
    padding: 0 var(--step-5);
    display: flex;
    align-items: center;
    gap: var(--step-5);
    min-width: 0;
  }
  ol {
    flex: 1;
    display: flex;
    overflow-x: auto;
    min-width: 0;
    height: 100%;
    align-items: flex-start; /* the knots at one height, however much is said below them */
    padding-top: var(--step-3h);
    scrollbar-width: thin;
  }
  .page {
    flex: none;
    width: 178px;
    margin-right: var(--step-3h);
    padding: var(--step-2) var(--step-3);
    border: 1px dashed var(--weld);
    border-radius: var(--radius);
    font-size: var(--size-s);
    line-height: 1.3;
  }
  .page.live {
    border: 1px solid var(--moss);
  }
  .page button {
    width: 100%;
    text-align: left;
    cursor: pointer;
  }
  .page button > * {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .none {
    align-self: center;
    margin-top: calc(-1 * var(--step-3h));
    border: 0;
  }
  .acts {
    display: flex;
    align-items: center;
    gap: var(--step-2h);
  }
  .chord {
    visibility: hidden;
    white-space: nowrap;
  }
  .chord.shown {
    visibility: visible;
  }
</style>
