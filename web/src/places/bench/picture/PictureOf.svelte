<script lang="ts">
  import { untrack } from 'svelte';
  import { Doing } from '../../../look/doing.svelte';
  import Files from '../../../look/Files.svelte';
  import { weight } from '../../../look/time';
  import type { EditorProps } from '../editors';
  import type { Typed } from '../typed';
  import type { Schemas } from '../../../api/client';
  import LayOf from './LayOf.svelte';
  import { amongWords, isMarkdown, layAct, layOf, putAgain, putOf, type Lay } from './lay';
  import { type From, small } from './picking.svelte';
  import { ratio, widest } from './places';

  /** A picture on the page: what it says, how large it is shown, and what may take its place. */
  let { bench, desk, request, part, wish, act, refused }: EditorProps = $props();

  const field = (act: Typed) => untrack(() => desk.field(act));
  const id = untrack(() => part.id);
  const alt = field({ do: 'attribute', name: 'alt', part: id, words: '' });
  const title = field({ do: 'attribute', name: 'title', part: id, words: '' });
  const caption = field({ do: 'caption', part: id, words: '' });
  const leads = field({ do: 'link-picture', part: id, href: '' });
  const doing = new Doing();
  const now = $derived(new URL(part.src, bench.draft_url).href);
  const place = $derived(desk.measured?.draft === bench.draft ? widest(desk.measured.places[part.id]) : undefined);
  const made = $derived(
    bench.changes.find((c) => c.id === part.change_id && c.state === 'kept')?.made ?? putOf(bench, part),
  );
  const again = $derived<From | undefined>(
    made?.attachment_id ? { attachment_id: made.attachment_id } : made?.path ? { path: made.path } : undefined,
  );

  const put = $derived(putOf(bench, part));
  const markdown = $derived(isMarkdown(bench));

  async function open(from: From) {
    await desk.flush();
    desk.picking = { part: part.id, from, ...(put ? { put: 'again' } : {}) };
  }
  /** A picture that the request put in lies otherwise, or says something else. */
  const relay = (as: Schemas['PutPictureAct'], lay: Lay, says: string) => act(putAgain(part.id, as, lay, says));
  async function add([f]: File[]) {
    if (!f) return;
    await doing.run(async () => open({ attachment_id: (await desk.brought.add(f)).id }));
  }
</script>

<p class="now">
  <img src={now} alt="" />
  <span class="small soft"
    ><span class="mono">{part.src}</span><br />
    {place
      ? `shown ${place.width} × ${place.height} in a window of ${place.at}, ${ratio(place.width, place.height)}`
      : 'its place is being measured…'}</span
  >
</p>
{#each refused.whys(['picture']) as why (why)}<p class="said look small">{why}</p>{:else}
  {#if again}<p><button class="btn slim" onclick={() => open(again)}>Work on it again</button></p>{/if}
  <p><b>Another picture</b></p>
  <ul>
    {#each desk.brought.pictures(request) as a (a.id)}
      <li>
        <button disabled={doing.busy} onclick={() => open({ attachment_id: a.id })}>
          <img src={small(request.row.number, { attachment_id: a.id }, 160)} alt="" />
          <span class="small">{a.name}<br /><span class="soft">{a.width} × {a.height}, {weight(a.size)}</span></span>
        </button>
      </li>
    {/each}
    <li>
      <button
        class="btn slim"
        onclick={() => (desk.picking = { part: part.id, from: { path: '' }, ...(put ? { put: 'again' } : {}) })}
        >One of this site</button
      >
    </li>
    <li><Files label="From this machine" most={1} disabled={doing.busy} onfiles={add} /></li>
  </ul>
{/each}
{#if !part.picture?.background}
  <label class="field">
    <span>Alternative text</span>
    <textarea
      class="box"
      rows="1"
      value={alt.now}
      oninput={({ currentTarget: { value } }) => (put ? (alt.now = value) : alt.type(value, wish))}
      onchange={() => put && relay(put, layOf(put), alt.now)}
      onblur={() => desk.flush()}></textarea>
    <small>what the picture shows, for whoever cannot see it</small>
  </label>
{/if}
{#if !put && !part.picture?.background}
  {#if !markdown}
    <label class="field">
      <span>Caption</span>
      <input
        class="box"
        value={caption.now}
        oninput={(e) => caption.type(e.currentTarget.value, wish)}
        onblur={() => desk.settle()}
      />
      <small>stands below it on the page</small>
    </label>
  {/if}
  <label class="field">
    <span>A click leads to</span>
    <input
      class="box"
      placeholder="nowhere"
      value={leads.now}
      oninput={(e) => leads.type(e.currentTarget.value.trim(), wish)}
      onblur={() => desk.settle()}
    />
  </label>
  <label class="field">
    <span>Title</span>
    <input
      class="box"
      value={title.now}
      oninput={(e) => title.type(e.currentTarget.value, wish)}
      onblur={() => desk.flush()}
    />
    <small>shown where the pointer rests on it</small>
  </label>
{/if}
{#if put}<LayOf lay={layOf(put)} {markdown} onlay={(lay) => relay(put, lay, alt.now)} />
{:else if part.picture && amongWords(bench, part)}
  <LayOf
    lay={{ side: part.picture.side, percent: part.picture.percent, caption: '', title: '', link: '' }}
    {markdown}
    only
    onlay={({ side, percent }) => act(layAct(part.id, side, percent))}
  />
{/if}

<style>
  .now {
    display: flex;
    gap: var(--step-2h);
    align-items: center;
    overflow-wrap: anywhere;
  }
  .now img {
    width: 96px;
    height: 60px;
    object-fit: contain;
    background: var(--linen);
  }
  ul {
    display: grid;
    gap: var(--step-1h);
  }
  li button {
    display: flex;
    gap: var(--step-2h);
    align-items: center;
    width: 100%;
    text-align: left;
    border: 1px solid var(--hem);
    padding: var(--step);
    cursor: pointer;
  }
  li button:hover {
    border-color: var(--indigo);
    background: var(--indigo-wash);
  }
  li img {
    width: 76px;
    height: 46px;
    object-fit: cover;
  }
</style>
