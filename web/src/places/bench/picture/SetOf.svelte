<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import { complain } from '../../../look/toast';
  import type { EditorProps } from '../editors';
  import AddToSet from './AddToSet.svelte';

  /** The items of a set: put in order by the grip or by keys, several taken out at once, pictures added. */
  let { bench, desk, request, part, wish, onchoose }: EditorProps = $props();

  const items = $derived(bench.parts.filter((p) => p.parent === part.id));
  /** The picture in an item, at whatever depth. */
  function pictureOf(item: Schemas['Part']): Schemas['Part'] | undefined {
    if (item.picture && !item.picture.background) return item;
    for (const p of bench.parts) {
      const found = p.parent === item.id ? pictureOf(p) : undefined;
      if (found) return found;
    }
    return undefined;
  }
  const rows = $derived(items.map((item) => ({ item, picture: pictureOf(item) })));
  const pictures = $derived(rows.some((r) => r.picture));
  let chosen = $state.raw<string[]>([]);
  let dragged = $state('');
  let over = $state('');
  let adding = $state(false);
  let busy = $state(false);
  let problem = $state('');

  async function all(acts: Parameters<typeof desk.make>[0][]): Promise<boolean> {
    busy = true;
    problem = '';
    try {
      for (const a of acts) {
        await desk.make(a, wish);
        const no = desk.aside.at(-1);
        if (!no || JSON.stringify(no.act) !== JSON.stringify(a)) continue;
        problem = desk.problem; // it is said here, and what was written here stays
        desk.forget(no);
        return false;
      }
      chosen = [];
      keep();
      return true;
    } catch (e) {
      complain(e);
      return false;
    } finally {
      busy = false;
    }
  }
  /** The set stays in hand while its items change; a set keeps its place on the page. */
  const keep = () => onchoose(part.id);
  // From the last to the first: the names of those before stay what they are.
  const takeOut = () =>
    all(
      [...items]
        .reverse()
        .filter((i) => chosen.includes(i.id))
        .map((i) => ({ do: 'remove', part: i.id })),
    );
  function move(from: number, to: number) {
    const [item, anchor] = [items[from], items[to]];
    if (!item || !anchor || from === to || busy) return;
    void all([{ do: 'move', part: item.id, anchor: anchor.id, where: to < from ? 'before' : 'after' }]);
  }
  const toggle = (id: string) => (chosen = chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id]);
</script>

{#if rows.length > 1}
  <ol aria-label="The items of {part.name}">
    {#each rows as { item, picture }, i (item.id)}
      <li
        class:over={over === item.id && dragged !== item.id}
        draggable={!busy}
        ondragstart={() => (dragged = item.id)}
        ondragover={(e) => {
          e.preventDefault();
          over = item.id;
        }}
        ondragend={() => ((dragged = ''), (over = ''))}
        ondrop={(e) => {
          e.preventDefault();
          move(
            items.findIndex((x) => x.id === dragged),
            i,
          );
          [dragged, over] = ['', ''];
        }}
      >
        <span class="grip" aria-hidden="true">⠿</span>
        <input
          type="checkbox"
          aria-label={item.name}
          checked={chosen.includes(item.id)}
          onchange={() => toggle(item.id)}
        />
        {#if picture}<img src={new URL(picture.src, bench.draft_url).href} alt="" />{/if}
        <button class="name small" onclick={() => onchoose((picture ?? item).id)}>{(picture ?? item).name}</button>
        <button
          class="key"
          aria-label="{item.name} further up"
          disabled={busy || i === 0}
          onclick={() => move(i, i - 1)}>↑</button
        >
        <button
          class="key"
          aria-label="{item.name} further down"
          disabled={busy || i === rows.length - 1}
          onclick={() => move(i, i + 1)}>↓</button
        >
      </li>
    {/each}
  </ol>
  <p class="acts">
    {#if pictures}<button class="btn slim" onclick={() => (adding = !adding)} disabled={busy}>Add pictures</button>{/if}
    {#if chosen.length && chosen.length < rows.length}<button class="btn slim warn" onclick={takeOut} disabled={busy}
        >Take out {chosen.length}</button
      >{/if}
    {#if busy}<span class="small soft" role="status">It is done one after the other…</span>{/if}
  </p>
  {#if problem}<p class="said small" role="alert">{problem}</p>{/if}
  {#if adding}
    <AddToSet
      {bench}
      {desk}
      {request}
      {part}
      inside={rows.flatMap((r) => (r.picture ? [r.picture.src] : []))}
      onadd={async (act) => {
        if (await all([act])) adding = false;
      }}
    />
  {/if}
{/if}

<style>
  ol {
    display: grid;
    gap: var(--step-half);
  }
  li {
    display: flex;
    gap: var(--step-1h);
    align-items: center;
    padding: var(--step-half) var(--step-1h);
    border: 1px solid var(--hem);
    background: var(--paper);
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
  .acts {
    display: flex;
    gap: var(--step-1h);
    align-items: center;
  }
</style>
