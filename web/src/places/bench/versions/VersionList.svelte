<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import { momentWords } from '../../../look/time';

  /** The versions of a page in the order of time, the newest on top; one is chosen. */
  let {
    all,
    zone,
    chosen,
    onchoose,
  }: {
    all: Schemas['PageVersion'][];
    zone?: string;
    chosen?: number;
    onchoose: (id: number) => void;
  } = $props();
</script>

<ol aria-label="Versions of the page">
  {#each all as v (v.id)}
    <li class={{ now: v.now, start: v.start }}>
      <button aria-pressed={v.id === chosen} onclick={() => onchoose(v.id)}>
        <b>{momentWords(v.at, zone)}</b>
        {#if v.now}<span class="small is-fine">live now</span>{/if}
        <span class="small soft"
          >{v.start && v.request ? 'the starting state, ' : ''}{v.say}{v.who ? `, ${v.who}` : ''}</span
        >
      </button>
    </li>
  {/each}
</ol>

<style>
  ol {
    min-height: 0;
    overflow: auto;
    padding: var(--step-3) var(--step-3) var(--step-5) var(--step-5);
    border-right: 1px solid var(--hem-strong);
  }
  li {
    border-left: 2px dashed var(--hem-strong);
    padding-left: var(--step-2h);
  }
  li.now {
    border-left: 2px solid var(--moss);
  }
  li.start {
    border-left-style: dotted;
  }
  button {
    width: 100%;
    display: flex;
    flex-wrap: wrap;
    gap: 0 var(--step-2);
    justify-content: space-between;
    padding: var(--step-2) var(--step-2h);
    border: 1.5px solid transparent;
    border-radius: var(--radius);
    text-align: left;
    cursor: pointer;
    overflow-wrap: anywhere;
  }
  button > :last-child {
    width: 100%;
  }
  button:hover {
    background: var(--indigo-wash);
  }
  button[aria-pressed='true'] {
    border-color: var(--indigo);
    background: var(--paper);
  }
</style>
