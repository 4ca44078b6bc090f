<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { complain } from '../../look/toast';
  import type { BenchPage } from './desk.svelte';

  /** What is hidden of the page, each to be shown again where it stood. */
  let {
    bench,
    desk,
    wish,
    onchoose,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    wish?: number;
    onchoose: (id: string | undefined) => void;
  } = $props();
  let busy = $state(0);

  async function show(change: number) {
    busy = change;
    const untaken = desk.untaken();
    try {
      const made = await desk.make({ do: 'show', change }, wish);
      if (untaken()) onchoose(made);
    } catch (e) {
      complain(e);
    } finally {
      busy = 0;
    }
  }
</script>

{#if bench.hidden.length}
  <section aria-label="Hidden on this page">
    <h2>Hidden on this page <span class="soft small">out of it, their places remembered</span></h2>
    <ul>
      {#each bench.hidden as h (h.change_id)}
        <li>
          <span class="name" title={h.words}
            ><b>{h.name}</b>
            {#if h.state === 'live' || h.state === 'sure'}<span class="is-live small">hidden from visitors</span>
            {:else}<span class="is-kept small">still live for visitors</span>{/if}</span
          >
          <button class="btn slim" disabled={!!busy || h.state === 'going'} onclick={() => show(h.change_id)}
            >Show again</button
          >
        </li>
      {/each}
    </ul>
  </section>
{/if}

<style>
  section {
    background: var(--paper);
    border: 1px solid var(--hem);
    border-radius: var(--radius);
    padding: var(--step-2h) var(--step-3h);
    margin-bottom: var(--step-2);
    max-height: 180px;
    overflow: auto;
  }
  h2 {
    font-size: var(--size);
  }
  h2 span {
    display: block;
    font-family: var(--text);
    font-weight: 400;
  }
  li {
    display: flex;
    justify-content: space-between;
    gap: var(--step-2h);
    align-items: center;
    padding-top: var(--step-1h);
  }
  .name {
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .btn {
    flex: none;
  }
</style>
