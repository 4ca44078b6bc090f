<script lang="ts">
  import type { EditorProps } from '../editors';
  import { choices, most, says } from './widths';

  /** The row of columns that a part is in: how wide each is, and one more. */
  let { part, act, bench }: EditorProps = $props();
  const row = $derived(part.row);
  const wide = $derived(row?.wide.join(' '));
  const names = $derived(row?.columns.map((id) => bench.parts.find((p) => p.id === id)?.name ?? '') ?? []);
</script>

{#if row}
  <section aria-label="The columns">
    <p class="small">
      Column {row.own + 1} of {row.columns.length}
      <span class="soft">on a phone they stand below each other, in this order</span>
    </p>
    <div role="group" aria-label="How wide they are">
      {#each choices[row.columns.length] ?? [] as choice (choice.join(' '))}
        <button
          aria-pressed={choice.join(' ') === wide}
          title={choice.map((n, i) => `${n === Math.max(...choice) ? '' : 'narrower: '}${names[i]}`).join(' | ')}
          onclick={() => act({ do: 'columns', part: part.id, wide: choice })}
        >
          <span class="both" aria-hidden="true">
            <span class="screen"
              >{#each choice as n, i (i)}<i style:flex-grow={n}></i>{/each}</span
            >
            <span class="phone"
              >{#each row.columns as id (id)}<i></i>{/each}</span
            >
          </span>
          <span class="small">{says(choice)}</span>
        </button>
      {/each}
    </div>
    {#if row.columns.length < most}
      <p>
        <button class="btn slim" onclick={() => act({ do: 'add-column', part: part.id })}>Add a column</button>
      </p>
    {/if}
  </section>
{/if}

<style>
  section {
    display: grid;
    gap: var(--step-1h);
  }
  div {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-1h);
  }
  button:not(.btn) {
    display: grid;
    gap: var(--step-half);
    padding: var(--step);
    border: 1.5px solid var(--hem);
    border-radius: var(--radius);
    background: var(--paper);
    cursor: pointer;
    text-align: left;
    line-height: 1.2;
  }
  button:not(.btn):hover {
    background: var(--indigo-wash);
  }
  button[aria-pressed='true'] {
    border-color: var(--indigo);
    background: var(--indigo-wash);
  }
  .both,
  .screen {
    display: flex;
    gap: 3px;
  }
  .both {
    gap: var(--step-1h);
    align-items: start;
  }
  .screen {
    width: 56px;
    height: 24px;
  }
  .phone {
    display: grid;
    gap: 2px;
    width: 12px;
    height: 24px;
  }
  i {
    flex: 1 1 0;
    background: var(--hem-strong);
  }
</style>
