<script lang="ts">
  import { copy as copyText } from '../../look/copy';
  import { complain, say } from '../../look/toast';
  import type { BenchPage } from './desk.svelte';
  import { saying, type Slip, theirsOf } from './outbox';

  /** What was typed and could not be kept: it lies on this machine until somebody puts it away. */
  let { desk }: { desk: BenchPage } = $props();

  async function copy(s: Slip) {
    try {
      await copyText(saying(s));
      say('Copied.');
    } catch {
      complain(new Error('This browser does not let the words be copied. Choose them and copy them by hand.'));
    }
  }
</script>

{#each desk.unsent.aside as s (s)}
  {@const words = saying(s)}
  {#if words}
    <section class="aside said stop small" aria-label="Typed, and not kept">
      <p><b>Typed here, and not kept.</b> {desk.problem || 'It fits no place on the page as it is now.'}</p>
      <p class="words">{words}</p>
      {#if theirsOf(s)}<p>Somebody else made this of the same words:</p>
        <p class="words">{theirsOf(s)}</p>{/if}
      <p>
        <button class="btn slim" onclick={() => copy(s)}>Copy the words</button>
        <button class="btn slim quiet" onclick={() => desk.forget(s)}>Put them away</button>
      </p>
    </section>
  {/if}
{/each}

<style>
  .aside {
    display: grid;
    gap: var(--step-1h);
    margin-bottom: var(--step-2);
  }
  .words {
    max-height: 110px;
    overflow: auto;
    white-space: pre-wrap;
    background: var(--paper);
    color: var(--ink);
    padding: var(--step) var(--step-2);
  }
</style>
