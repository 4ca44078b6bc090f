<script lang="ts">
  import { untrack } from 'svelte';
  import type { Schemas } from '../../api/client';
  import { arrows } from '../../look/arrows';
  import { renames } from './renames';

  /** Every part of the page in order, so that none needs the mouse. */
  let {
    parts,
    current,
    onchoose,
  }: { parts: Schemas['Part'][]; current?: Schemas['Part']; onchoose: (id: string) => void } = $props();
  let filter = $state('');
  // While somebody reaches into the list it stands still: what is chosen is what it said when it was aimed at, though a
  // change that is being kept gives the parts other names and puts others among them.
  let pointed = $state(false);
  let focused = $state(false);
  const fresh = () => parts.map((p) => ({ key: p.id, now: p.id as string | undefined, part: p }));
  let rows = $state.raw(untrack(fresh));
  let had = untrack(() => parts);
  $effect.pre(() => {
    const was = had;
    had = parts;
    if (!pointed && !focused) rows = fresh();
    else if (parts !== was) {
      const to = renames(was, parts);
      rows = untrack(() => rows).map((r) => ({ ...r, now: r.now && to(r.now) }));
    }
  });
  const depth = $derived(
    rows.reduce<Record<string, number>>((d, { part: p }) => {
      d[p.id] = p.parent ? (d[p.parent] ?? 0) + 1 : 0;
      return d;
    }, {}),
  );
  // What is looked for stands in the part that says it, before those that only hold that one.
  const holds = ['section', 'set', 'item', 'table', 'form'];
  const shown = $derived.by(() => {
    const found = rows.filter(
      ({ part: p }) => p.kind !== 'row' && `${p.name} ${p.text}`.toLowerCase().includes(filter.trim().toLowerCase()),
    );
    return filter.trim()
      ? found.sort((a, b) => Number(holds.includes(a.part.kind)) - Number(holds.includes(b.part.kind)))
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
  <ul
    onpointerenter={() => (pointed = true)}
    onpointerleave={() => (pointed = false)}
    onfocusin={() => (focused = true)}
    onfocusout={() => (focused = false)}
  >
    {#each shown as { key, now, part: p } (key)}
      <li style:padding-left="{filter.trim() ? 0 : (depth[p.id] ?? 0) * 12}px">
        <button class:now={!!now && now === current?.id} disabled={!now} onclick={() => now && onchoose(now)}>
          <span class="name">{p.name}</span>
          <span class="small soft">{!now ? 'gone' : p.locked ? 'locked' : p.change_id ? 'kept' : p.kind}</span>
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
