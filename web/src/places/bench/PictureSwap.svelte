<script lang="ts">
  import Files from '../../look/Files.svelte';
  import { untrack } from 'svelte';
  import { addPicture, type Schemas } from '../../api/client';
  import { complain } from '../../look/toast';
  import { weight } from '../../look/time';
  import type { EditorProps } from './editors';

  let { bench, desk, request, part, wish, refused }: EditorProps = $props();

  let alt = $state(untrack(() => part.alt)); // from here on the field leads
  let added = $state<Schemas['Attachment'][]>([]);
  let busy = $state(false);
  const pictures = $derived([
    ...request.attachments,
    ...added.filter((a) => !request.attachments.some((b) => b.id === a.id)),
  ]);
  const now = $derived(new URL(part.src, bench.draft_url).href);

  async function swap(a: Schemas['Attachment']) {
    busy = true;
    try {
      await desk.make({ do: 'picture', part: part.id, attachment_id: a.id, alt, shape: desk.shapeOf(part.id) }, wish);
    } catch (e) {
      complain(e);
    } finally {
      busy = false;
    }
  }
  async function add([f]: File[]) {
    if (!f) return;
    busy = true;
    try {
      const a = await addPicture(request.row.number, f);
      added = [...added, a];
    } catch (e) {
      complain(e);
    } finally {
      busy = false;
    }
  }
</script>

<p class="now"><img src={now} alt="" /> <span class="small soft mono">{part.src}</span></p>
<label class="field">
  <span>Alternative text</span>
  <textarea
    class="box"
    rows="1"
    bind:value={alt}
    oninput={() => desk.type({ do: 'attribute', name: 'alt', part: part.id, words: alt }, wish)}
    onblur={() => desk.flush()}></textarea>
  <small>what the picture shows, for whoever cannot see it</small>
</label>
<p><b>Swap for</b></p>
{#each refused.whys(['picture']) as why (why)}<p class="said look small">{why}</p>{:else}
  <ul>
    {#each pictures as a (a.id)}
      <li>
        <button disabled={busy} onclick={() => swap(a)}>
          <img src="/api/attachments/{a.id}" alt="" />
          <span class="small">{a.name}<br /><span class="soft">{a.width} × {a.height}, {weight(a.size)}</span></span>
        </button>
      </li>
    {/each}
    <li>
      <Files label="Another picture" most={1} disabled={busy} onfiles={add} />
    </li>
  </ul>
{/each}

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
