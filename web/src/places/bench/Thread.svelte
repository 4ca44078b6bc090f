<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { keys } from '../../look/keys.svelte';

  /** The changes of a request in order; each is a knot. */
  let {
    changes,
    current,
    page,
    onopen,
    onundo,
    onproof,
  }: {
    changes: Schemas['Change'][];
    current?: number;
    page: number;
    onopen: (c: Schemas['Change']) => void;
    onundo: () => void;
    onproof: () => void;
  } = $props();
  const kept = $derived(changes.some((c) => c.state === 'kept'));
  const here = $derived(changes.some((c) => c.state === 'kept' && c.page_id === page));
  let list = $state<HTMLElement>();
  $effect(() => {
    if (changes.length) list?.scrollTo({ left: list.scrollWidth }); // the newest is seen
  });
  const short = (c: Schemas['Change']) =>
    c.kind === 'words' || c.kind === 'facts'
      ? `${c.before_words || 'nothing'} → ${c.after_words || 'nothing'}`
      : c.say.startsWith(c.part_name)
        ? c.say.slice(c.part_name.length).replace(/^[:\s]+/, '')
        : c.say;
</script>

<footer>
  <ol aria-label="The thread of changes" bind:this={list}>
    {#each changes as c (c.id)}
      <li class={c.state} class:on={c.id === current}>
        <button onclick={() => onopen(c)} title={c.say}>
          <b>{c.part_name}</b>
          <span>{c.page_id === page ? short(c) : c.address}</span>
          <span class="unseen"
            >{c.state === 'kept' ? 'kept, not live' : c.state === 'going' ? 'going out with a release' : c.state}</span
          >
        </button>
      </li>
    {:else}
      <li class="soft none">The thread is empty: nothing is changed yet.</li>
    {/each}
  </ol>
  <span class="acts">
    <button class="btn" disabled={!here} onclick={onundo}
      >Undo last here {#if keys.on}<kbd>U</kbd>{/if}</button
    >
    <button class="btn go" disabled={!kept} onclick={onproof}
      >Make proof {#if keys.on}<kbd>M</kbd>{/if}</button
    >
  </span>
</footer>

<style>
  footer {
    background: var(--paper);
    border-top: 1px solid var(--hem-strong);
    padding: 0 20px;
    display: flex;
    align-items: center;
    gap: 20px;
    min-width: 0;
  }
  ol {
    flex: 1;
    display: flex;
    overflow-x: auto;
    min-width: 0;
    height: 100%;
    align-items: center;
    scrollbar-width: thin;
  }
  li {
    flex: none;
    width: 168px;
    position: relative;
    padding-top: 18px;
    border: 0;
  }
  li::before {
    content: '';
    position: absolute;
    left: 6px;
    right: -6px;
    top: 9px;
    border-top: 2px dashed var(--weld);
  }
  li:last-child::before {
    right: 30px;
  }
  li::after {
    content: '';
    position: absolute;
    left: 0;
    top: 3px;
    width: 13px;
    height: 13px;
    border: 2.5px solid var(--weld);
    background: var(--paper);
    border-radius: 50% 50% 50% 0;
  }
  .live::after,
  .sure::after {
    border-color: var(--moss);
  }
  .live::before,
  .sure::before {
    border-top: 2px solid var(--moss);
  }
  .undone::after {
    border-color: var(--ink-soft);
  }
  .on::after {
    background: var(--indigo);
    border-color: var(--indigo);
  }
  .none {
    width: auto;
    padding: 0;
  }
  .none::before,
  .none::after {
    display: none;
  }
  li button {
    width: 156px;
    text-align: left;
    font-size: 13px;
    line-height: 1.3;
    cursor: pointer;
  }
  b,
  li span:not(.unseen) {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .acts {
    display: flex;
    gap: 10px;
  }
</style>
