<script lang="ts">
  import type { BenchPage } from './desk.svelte';
  import { apart, type Piece } from './merged';

  /** Where two people changed the same words at the same time: theirs are kept, and what was typed here waits for a word. */
  let { desk }: { desk: BenchPage } = $props();

  const others = $derived([...new Set(desk.company.here.map((g) => g.name))]);
  const who = $derived(others.length === 1 ? others[0] : 'Somebody else');
</script>

{#snippet said(all: Piece[])}{#each all as { text, own }, i (i)}{#if own}<mark>{text}</mark
      >{:else}{text}{/if}{/each}{/snippet}

{#each desk.unsent.undecided as two (two.key)}
  {@const words = apart(two.mine, two.theirs)}
  <section class="two said look small" aria-label="Two wordings of the same words" role="alert">
    <p>
      <b>{who} changed the same words while you {two.mine ? 'typed' : 'took them out'}.</b>
    </p>
    <dl>
      <dt>kept</dt>
      <dd>{@render said(words.theirs)}</dd>
      <dt>yours, not kept</dt>
      <dd>
        {#if two.mine}{@render said(words.mine)}{:else}<i>taken out</i>{/if}
      </dd>
    </dl>
    <p class="choose">
      <button class="btn slim" onclick={() => two.decide(true)}
        >{two.mine ? 'Keep yours instead' : 'Take it out'}</button
      >
      <button class="btn slim quiet" onclick={() => two.decide(false)}>Leave theirs</button>
    </p>
  </section>
{/each}

<style>
  .two {
    display: grid;
    gap: var(--step-1h);
    margin-bottom: var(--step-2);
  }
  dl {
    display: grid;
    grid-template-columns: max-content minmax(0, 1fr);
    gap: var(--step) var(--step-2);
  }
  dt {
    color: var(--ink-soft);
  }
  dd {
    max-height: 96px;
    overflow: auto;
    white-space: pre-wrap;
    overflow-wrap: anywhere;
    background: var(--paper);
    color: var(--ink);
    padding: 0 var(--step-1h);
  }
  mark {
    background: none;
    color: inherit;
    font-weight: 700;
    border-bottom: 2px solid var(--weld);
  }
  .choose {
    display: flex;
    gap: var(--step-2);
  }
</style>
