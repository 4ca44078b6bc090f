<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { arrows } from '../../look/arrows';

  /** Every part of the page in order, so that none needs the mouse. */
  let {
    parts,
    current,
    onchoose,
  }: { parts: Schemas['Part'][]; current?: Schemas['Part']; onchoose: (id: string) => void } = $props();
  let filter = $state('');
  const depth = $derived(
    parts.reduce<Record<string, number>>((d, p) => {
      d[p.id] = p.parent ? (d[p.parent] ?? 0) + 1 : 0;
      return d;
    }, {}),
  );
  // What is looked for stands in the part that says it, before those that only hold that one.
  const holds = ['section', 'set', 'item', 'table', 'form'];
  const shown = $derived.by(() => {
    const found = parts.filter(
      (p) => p.kind !== 'row' && `${p.name} ${p.text}`.toLowerCase().includes(filter.trim().toLowerCase()),
    );
    return filter.trim()
      ? found.sort((a, b) => Number(holds.includes(a.kind)) - Number(holds.includes(b.kind)))
      : found;
  });
  const focus = (el: HTMLElement) => el.focus();
</script>

<div class="sheet list" role="group" aria-label="Parts of the page" use:arrows>
  <input
    class="box"
    aria-label="Narrow the list of parts"
    placeholder="narrow the list"
    bind:value={filter}
    use:focus
  />
  <ul>
    {#each shown as p (p.id)}
      <li style:padding-left="{filter.trim() ? 0 : (depth[p.id] ?? 0) * 12}px">
        <button class:now={p.id === current?.id} onclick={() => onchoose(p.id)}>
          <span class="name">{p.name}</span>
          <span class="small soft">{p.locked ? 'locked' : p.change_id ? 'kept' : p.kind}</span>
        </button>
      </li>
    {/each}
  </ul>
</div>

<style>
  .list {
    height: calc(100% - 40px);
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    gap: var(--step-2);
    padding: var(--step-2h);
  }
  ul {
    overflow: auto;
  }
  button {
    display: flex;
    justify-content: space-between;
    gap: var(--step-2h);
    width: 100%;
    text-align: left;
    padding: var(--step) var(--step-2);
    cursor: pointer;
  }
  button:hover,
  button:focus-visible,
  .now {
    background: var(--indigo-wash);
    outline-offset: -2px;
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
