<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import Files from '../../../look/Files.svelte';
  import { complain } from '../../../look/toast';
  import type { BenchPage } from '../desk.svelte';
  import { small } from '../picture/picking.svelte';

  /** Several pictures for a set at once, each with its words; those in it already are marked. */
  let {
    bench,
    desk,
    request,
    part,
    inside,
    onadd,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    request: Schemas['Request'];
    part: Schemas['Part'];
    /** Where the pictures in the set are, as the page names them. */
    inside: string[];
    onadd: (act: Schemas['AddPicturesAct']) => Promise<void>;
  } = $props();

  let chosen = $state<Record<number, { alt: string; caption: string }>>({});
  let coming = $state('');
  let busy = $state(false);
  const all = $derived(desk.brought.pictures(request));
  const picked = $derived(all.filter((a) => chosen[a.id]));
  const silent = $derived(picked.filter((a) => !chosen[a.id]!.alt.trim()).length);
  /** By its name, which an address keeps: what was added before is known by it. */
  const there = (a: Schemas['Attachment']) => {
    const stem = a.name
      .toLowerCase()
      .replace(/\.\w+$/, '')
      .normalize('NFD')
      .replace(/[^a-z0-9]+/g, '-');
    return bench.changes.some((c) => c.state !== 'undone' && inside.some((src) => src.includes(`/${stem}`)));
  };

  async function bring(files: File[]) {
    for (const f of files) {
      coming = f.name;
      try {
        chosen[(await desk.brought.add(f)).id] = { alt: '', caption: '' };
      } catch (e) {
        complain(e);
      }
    }
    coming = '';
  }
  async function add() {
    busy = true;
    await onadd({
      do: 'add-pictures',
      part: part.id,
      pictures: picked.map((a) => ({
        attachment_id: a.id,
        alt: chosen[a.id]!.alt,
        ...(chosen[a.id]!.caption ? { caption: chosen[a.id]!.caption } : {}),
      })),
    });
    busy = false;
  }
</script>

<section aria-label="Pictures to add">
  <ul>
    {#each all as a (a.id)}
      <li>
        <label class="pick"
          ><input
            type="checkbox"
            checked={!!chosen[a.id]}
            onchange={(e) => {
              if (e.currentTarget.checked) chosen[a.id] = { alt: '', caption: '' };
              else delete chosen[a.id];
            }}
          />
          <img src={small(request.row.number, { attachment_id: a.id }, 160)} alt="" />
          <span class="small"
            >{a.name}
            {#if there(a)}<b class="is-kept">in it already</b>{/if}</span
          ></label
        >
        {#if chosen[a.id]}
          <input
            class="box"
            aria-label="What {a.name} shows"
            placeholder="what it shows"
            bind:value={chosen[a.id]!.alt}
          />
          <input
            class="box"
            aria-label="Caption of {a.name}"
            placeholder="caption, where the others have one"
            bind:value={chosen[a.id]!.caption}
          />
        {/if}
      </li>
    {/each}
  </ul>
  {#if coming}<p class="small soft" role="status">{coming} is on its way…</p>{/if}
  <Files label="From this machine, several at once" disabled={!!coming || busy} onfiles={bring} />
  {#if picked.length}
    <p>
      <button class="btn slim go" disabled={busy || !!coming} onclick={add}
        >{busy ? 'They are made…' : `Add ${picked.length}`}</button
      >
      {#if silent}<span class="small soft">{silent} without words, as ornaments</span>{/if}
    </p>
  {/if}
</section>

<style>
  section {
    display: grid;
    gap: var(--step-2);
    padding: var(--step-2);
    border: 1px dashed var(--hem-strong);
  }
  ul,
  li {
    display: grid;
    gap: var(--step);
  }
  .pick {
    display: flex;
    gap: var(--step-2);
    align-items: center;
  }
  img {
    width: 60px;
    height: 40px;
    object-fit: cover;
    background: var(--linen);
  }
</style>
