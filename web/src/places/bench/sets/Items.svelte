<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import Fields from './Fields.svelte';
  import { pictureIn } from './inside';

  /** The items of a set in order: by the grip or by keys, chosen by boxes, each unfolded to what stands in it. */
  let {
    bench,
    items,
    label,
    busy,
    chosen = $bindable(),
    open = $bindable(),
    onmove,
    onchoose,
  }: {
    bench: Schemas['Bench'];
    items: Schemas['Part'][];
    label: string;
    busy: boolean;
    chosen: string[];
    /** The item that is unfolded. */
    open: string;
    onmove: (from: number, to: number) => void;
    onchoose: (id: string) => void;
  } = $props();

  const rows = $derived(items.map((item) => ({ item, picture: pictureIn(bench.parts, item) })));
  let dragged = $state('');
  let over = $state('');
  let of = ''; // the draft in which it has that name: items are called otherwise in the next one
  const toggle = (id: string) => (chosen = chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id]);
</script>

<ol aria-label={label}>
  {#each rows as { item, picture }, i (item.id)}
    <li
      class:over={over === item.id && dragged !== item.id}
      draggable={!busy}
      ondragstart={() => ([dragged, of] = [item.id, bench.draft])}
      ondragover={(e) => {
        e.preventDefault();
        over = item.id;
      }}
      ondragend={() => ([dragged, over] = ['', ''])}
      ondrop={(e) => {
        e.preventDefault();
        const from = items.findIndex((x) => x.id === dragged);
        if (from >= 0 && of === bench.draft) onmove(from, i);
        [dragged, over] = ['', ''];
      }}
    >
      <div class="row">
        <span class="grip" aria-hidden="true">⠿</span>
        <input
          type="checkbox"
          aria-label={item.name}
          checked={chosen.includes(item.id)}
          onchange={() => toggle(item.id)}
        />
        {#if picture}<img src={new URL(picture.src, bench.draft_url).href} alt="" />{/if}
        <button
          class="name small"
          aria-expanded={open === item.id}
          onclick={() => (open = open === item.id ? '' : item.id)}>{item.name.replace(/^“|”$/g, '')}</button
        >
        <button
          class="key"
          aria-label="{item.name} further up"
          disabled={busy || i === 0}
          onclick={() => onmove(i, i - 1)}>↑</button
        >
        <button
          class="key"
          aria-label="{item.name} further down"
          disabled={busy || i === rows.length - 1}
          onclick={() => onmove(i, i + 1)}>↓</button
        >
      </div>
      {#if open === item.id}<Fields {bench} {item} {onchoose} />{/if}
    </li>
  {/each}
</ol>

<style>
  ol {
    display: grid;
    grid-template-columns: minmax(0, 1fr);
    gap: var(--step-half);
  }
  li {
    padding: var(--step-half) var(--step-1h);
    border: 1px solid var(--hem);
    background: var(--paper);
  }
  .row {
    display: flex;
    gap: var(--step-1h);
    align-items: center;
  }
  li.over {
    border-color: var(--indigo);
    background: var(--indigo-wash);
  }
  .grip {
    cursor: grab;
    color: var(--ink-soft);
  }
  img {
    width: 44px;
    height: 30px;
    object-fit: cover;
    background: var(--linen);
  }
  .name {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    text-align: left;
    cursor: pointer;
  }
  .name:hover {
    text-decoration: underline;
  }
  .name[aria-expanded='true'] {
    font-weight: 700;
  }
  .key {
    min-width: 22px;
    border: 1px solid var(--hem-strong);
    border-radius: var(--radius);
    cursor: pointer;
  }
  .key:disabled {
    opacity: 0.4;
    cursor: default;
  }
</style>
