<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import { fieldsOf } from './inside';

  /** What can be changed in an item of a set, also where it is closed or out of sight: each is taken in hand by its name. */
  let { bench, item, onchoose }: { bench: Schemas['Bench']; item: Schemas['Part']; onchoose: (id: string) => void } =
    $props();
  const fields = $derived(fieldsOf(bench.parts, item));
  const kinds: Record<string, string> = { embed: 'film', cell: 'cell' };
</script>

<ul aria-label="What stands in {item.name}">
  {#each fields as f (f.id)}
    <li>
      <button class="small" disabled={!!f.locked} title={f.locked || undefined} onclick={() => onchoose(f.id)}>
        <span class="soft">{kinds[f.kind] ?? f.kind}</span>
        <span class="text">{f.kind === 'picture' ? f.name : f.text || f.name}</span>
        {#if f.change_id}<span class="is-kept">kept</span>{/if}
      </button>
    </li>
  {:else}
    <li class="small soft">Nothing in it can be changed by itself.</li>
  {/each}
  <li><button class="small whole" onclick={() => onchoose(item.id)}>The whole of it</button></li>
</ul>

<style>
  ul {
    display: grid;
    grid-template-columns: minmax(0, 1fr);
    margin: var(--step-half) 0 var(--step) calc(var(--step-3) + var(--step-2));
    border-left: 2px solid var(--hem);
  }
  button {
    display: flex;
    gap: var(--step-1h);
    align-items: baseline;
    width: 100%;
    padding: var(--step-half) var(--step-1h);
    text-align: left;
    cursor: pointer;
  }
  button:hover {
    background: var(--indigo-wash);
  }
  button:disabled {
    cursor: default;
    opacity: 0.6;
  }
  .soft {
    flex: 0 0 56px;
  }
  .text {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .whole {
    text-decoration: underline;
  }
</style>
