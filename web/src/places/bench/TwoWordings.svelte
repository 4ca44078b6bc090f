<script lang="ts">
  import type { BenchPage } from './desk.svelte';

  /** Where two people changed the same words at the same time: theirs are kept, and what was typed here waits for a word. */
  let { desk }: { desk: BenchPage } = $props();
</script>

{#each desk.unsent.undecided as two (two.key)}
  <section class="two said look small" aria-label="Two wordings of the same words" role="alert">
    <p><b>{desk.lastBy || 'Somebody else'} changed the same words while you typed.</b></p>
    <dl>
      <dt>kept</dt>
      <dd>{two.theirs}</dd>
      <dt>yours, not kept</dt>
      <dd>{two.mine}</dd>
    </dl>
    <p class="choose">
      <button class="btn slim" onclick={() => two.decide(true)}>Keep yours instead</button>
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
  .choose {
    display: flex;
    gap: var(--step-2);
  }
</style>
