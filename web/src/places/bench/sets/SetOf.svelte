<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import { complain } from '../../../look/toast';
  import type { Act } from '../desk.svelte';
  import type { EditorProps } from '../editors';
  import { isMarkdown } from '../picture/lay';
  import AddPictures from './AddPictures.svelte';
  import Items from './Items.svelte';
  import SettingsOf from './SettingsOf.svelte';
  import { pictureIn } from './inside';

  /** A set: its title, its items in order with what stands in each, items added and taken out, its settings. */
  let { bench, desk, request, part, wish, onchoose }: EditorProps = $props();

  const set = $derived(part.set);
  const named = $derived(new Map(bench.parts.map((p) => [p.id, p])));
  const items = $derived((set?.items ?? []).flatMap((id) => named.get(id) ?? []));
  const title = $derived(set && named.get(set.title));
  const pictures = $derived(items.length > 0 && items.every((i) => pictureIn(bench.parts, i)));
  let chosen = $state.raw<string[]>([]);
  let open = $state('');
  let adding = $state(false);
  let busy = $state(false);
  let problem = $state('');
  const one: Record<string, string> = {
    cards: 'card',
    pictures: 'picture',
    links: 'link',
    voices: 'voice',
    questions: 'question',
    tabs: 'tab',
    slides: 'slide',
    prices: 'price',
    posts: 'post',
    entries: 'entry',
    icons: 'icon',
    menu: 'entry',
  };
  const kind = $derived(one[set?.like ?? ''] ?? 'item');
  const thing = $derived(`${'aeiou'.includes(kind[0] ?? '') ? 'an' : 'a'} ${kind}`);

  let last: Promise<unknown> = Promise.resolve();
  /** Makes a change when the one before is made: who sets the next thing at once loses nothing. */
  function make(act: Act): Promise<boolean> {
    const mine = last.then(() => makeNow(act));
    last = mine;
    return mine;
  }
  /** The set stays in hand, as it keeps its place on the page. */
  async function makeNow(act: Act): Promise<boolean> {
    busy = true;
    problem = '';
    try {
      const untaken = desk.untaken();
      await desk.make(act, wish);
      const no = desk.unsent.aside.at(-1);
      if (no && JSON.stringify(no.act) === JSON.stringify(act)) {
        problem = desk.problem; // it is said here, and what was chosen here stays
        desk.forget(no);
        return false;
      }
      chosen = [];
      if (untaken()) onchoose(part.id);
      return true;
    } catch (e) {
      complain(e);
      return false;
    } finally {
      busy = false;
    }
  }
  function move(from: number, to: number) {
    const [item, anchor] = [items[from], items[to]];
    if (!item || !anchor || from === to) return;
    void make({ do: 'move', part: item.id, anchor: anchor.id, where: to < from ? 'before' : 'after' });
  }
  /** Adds an item and unfolds it, so that it can be filled. */
  async function add(like?: Schemas['Part']) {
    const at = like ? items.indexOf(like) + 1 : items.length;
    const done = await make({
      do: 'add-item',
      part: part.id,
      ...(like ? { like: like.id, anchor: like.id, copied: true } : {}),
    });
    if (done) open = items[at]?.id ?? '';
  }
</script>

{#if set && items.length > 1}
  {#if title}
    <p class="small title">
      <span class="soft">Title</span>
      <button onclick={() => onchoose(title.id)}>{title.text}</button>
    </p>
  {/if}
  <Items {bench} {items} label="The items of {part.name}" {busy} bind:chosen bind:open onmove={move} {onchoose} />
  <p class="acts">
    {#if !isMarkdown(bench)}<button class="btn slim" onclick={() => add()} disabled={busy}>Add {thing}</button>{/if}
    {#if pictures}<button class="btn slim" onclick={() => (adding = !adding)} disabled={busy}>Add pictures</button>{/if}
    {#if chosen.length === 1 && !isMarkdown(bench)}<button
        class="btn slim"
        onclick={() => add(items.find((i) => i.id === chosen[0]))}
        disabled={busy}>Copy it</button
      >{/if}
    {#if chosen.length && chosen.length < items.length}<button
        class="btn slim warn"
        onclick={() => make({ do: 'take-out', parts: chosen })}
        disabled={busy}>Take out {chosen.length}</button
      >{/if}
    {#if busy}<span class="small soft" role="status">It is being done…</span>{/if}
  </p>
  {#if problem}<p class="said small" role="alert">{problem}</p>{/if}
  {#if adding}
    <AddPictures
      {bench}
      {desk}
      {request}
      {part}
      inside={items.flatMap((i) => pictureIn(bench.parts, i)?.src ?? [])}
      onadd={async (act) => {
        if (await make(act)) adding = false;
      }}
    />
  {/if}
  {#if set.settings.length}
    <SettingsOf
      {bench}
      number={request.row.number}
      {part}
      onset={(s, value) =>
        void make({ do: 'setting', part: s.part, name: s.name, value, ...(s.key ? { key: s.key } : {}) })}
    />
  {/if}
{/if}

<style>
  .title {
    display: flex;
    gap: var(--step-1h);
    align-items: baseline;
  }
  .title button {
    text-decoration: underline;
    text-align: left;
    cursor: pointer;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-1h);
    align-items: center;
  }
</style>
