<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import { momentWords } from '../../../look/time';
  import { sections } from './sections';
  import Side from './Side.svelte';

  /** What an earlier version of a page had where the draft differs, each part beside what stands there today. */
  let {
    told,
    zone,
    busy,
    onback,
    onsection,
    onpage,
  }: {
    told: Schemas['VersionDifference'];
    zone?: string;
    busy: boolean;
    onback: (row: string) => void;
    onsection: (part: string) => void;
    onpage: () => void;
  } = $props();
  const whole = $derived(sections(told.rows));
</script>

<div class="all">
  {#if told.same}
    <p>The draft is the page as it was then, byte for byte.</p>
  {:else}
    <p class="line">
      <span
        >{told.rows.length || 'No'}
        {told.rows.length === 1 ? 'part differs' : 'parts differ'}{told.rows.length
          ? ''
          : ', only the markup around them'}</span
      >
      <button class="btn" disabled={busy} onclick={onpage}>Bring the whole page back</button>
    </p>
    {#if told.rows.length}
      <table>
        <thead
          ><tr
            ><th>The draft today</th><th>On {momentWords(told.version.at, zone)}</th><th
              ><span class="unseen">Bring back</span></th
            ></tr
          ></thead
        >
        <tbody>
          {#each told.rows as row (row.key)}
            <tr>
              <td class="about" colspan="3"
                ><b>{row.name}</b>
                {#if !row.words.length}<span class="small soft">{row.say}</span>{/if}
                {#if whole.get(row.key)}
                  {@const section = whole.get(row.key)!}
                  <button class="btn slim" disabled={busy} onclick={() => onsection(section.id)}
                    >Bring back all of “{section.name}”</button
                  >
                {/if}</td
              >
            </tr>
            <tr>
              <td><Side runs={row.words} side="today" /></td>
              <td><Side runs={row.words} side="then" /></td>
              <td class="act"
                ><button class="btn slim" disabled={busy} onclick={() => onback(row.key)}>Bring back</button></td
              >
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
  {/if}
</div>

<style>
  .all {
    padding: var(--step-3) var(--step-5) var(--step-5);
  }
  .line {
    display: flex;
    gap: var(--step-3);
    align-items: center;
    justify-content: space-between;
  }
  table {
    width: 100%;
    table-layout: fixed;
    border-collapse: collapse;
    margin-top: var(--step-3);
    background: var(--paper);
    border: 1px solid var(--hem);
  }
  th,
  td {
    padding: var(--step-1h) var(--step-3);
    text-align: left;
    vertical-align: top;
    overflow-wrap: anywhere;
  }
  th {
    font-size: var(--size-s);
    color: var(--ink-soft);
    border-bottom: 1px solid var(--hem-strong);
  }
  th:last-child {
    width: 118px;
  }
  .about {
    padding-top: var(--step-3);
  }
  .about .btn {
    float: right;
  }
  tr + tr .about {
    border-top: 1px solid var(--hem);
  }
  .act {
    text-align: right;
  }
</style>
