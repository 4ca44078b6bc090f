<script lang="ts">
  import type { Schemas } from '../../../api/client';

  /** One side of a comparison: what both sides say, and what this one says alone. */
  let { runs, side }: { runs: Schemas['Run'][]; side: 'today' | 'then' } = $props();
  const own = $derived(side === 'today' ? 'gone' : 'new');
  const shown = $derived(runs.filter((r) => r.is === 'same' || r.is === own));
</script>

<!-- prettier-ignore -->
<span class="side">{#each shown as r, i (i)}{#if r.is === 'same'}{r.text}{:else}<mark class={side}>{r.text}</mark>{/if}{/each}</span>

<style>
  .side {
    white-space: pre-line;
  }
  mark {
    color: inherit;
    border-bottom: 2px solid;
  }
  .today {
    background: var(--linen);
    border-color: var(--hem-strong);
  }
  .then {
    background: var(--indigo-wash);
    border-color: var(--indigo);
  }
</style>
