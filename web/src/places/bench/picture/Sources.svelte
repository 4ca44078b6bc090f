<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import Files from '../../../look/Files.svelte';
  import Segments from '../../../look/Segments.svelte';
  import OnOff from '../../../look/OnOff.svelte';
  import { untrack } from 'svelte';
  import { complain } from '../../../look/toast';
  import type { BenchPage } from '../desk.svelte';
  import OfSite from './OfSite.svelte';
  import { type From, type Picking, small } from './picking.svelte';

  /** Where a picture comes from; what else of the page it stands for. */
  let { picking, desk, request }: { picking: Picking; desk: BenchPage; request: Schemas['Request'] } = $props();

  let where = $state<'request' | 'site'>(untrack(() => (picking.from.path !== undefined ? 'site' : 'request')));
  let coming = $state('');
  const all = $derived(desk.brought.pictures(request));
  async function add(files: File[]) {
    for (const f of files) {
      coming = f.name;
      try {
        const a = await desk.brought.add(f);
        if (f === files[0]) picking.choose({ attachment_id: a.id });
      } catch (e) {
        complain(e);
      }
    }
    coming = '';
  }
  function paste(e: ClipboardEvent) {
    const files = [...(e.clipboardData?.files ?? [])].filter((f) => f.type.startsWith('image/'));
    if (!files.length) return;
    e.preventDefault();
    void add(files);
  }
  function narrow(from: From | undefined) {
    picking.narrow = from;
    picking.changed();
  }
</script>

<svelte:window onpaste={paste} />

<article class="sheet">
  <header>
    <h3>Take a picture from</h3>
    <Segments
      label="Where from"
      choices={[
        { value: 'request', label: 'the request' },
        { value: 'site', label: 'this site' },
      ]}
      bind:value={where}
    />
  </header>
  {#if where === 'site'}
    <OfSite site={request.row.site_id} current={picking.from.path} onpick={(path) => picking.choose({ path })} />
  {:else}
    <ul>
      {#each all as a (a.id)}
        <li>
          <button
            class="pick"
            aria-pressed={picking.from.attachment_id === a.id}
            title={a.name}
            onclick={() => picking.choose({ attachment_id: a.id })}
          >
            <img src={small(picking.number, { attachment_id: a.id }, 160)} alt="" />
            <span class="small">{a.name}</span>
          </button>
        </li>
      {/each}
    </ul>
    {#if coming}<p class="small soft" role="status">{coming} is on its way…</p>{/if}
    <Files label="This machine" disabled={!!coming} onfiles={add} />
    <p class="small soft">pasting works too</p>
  {/if}
</article>
{#if !picking.put && picking.part.src && (!picking.part.picture?.background || picking.part.kind !== 'picture')}
  <article class="sheet">
    <div class="line">
      <span><b>Everywhere</b> <span class="soft">wherever it is shown, same address</span></span>
      <OnOff
        label="replaced"
        on={picking.everywhere}
        onswitch={(on) => {
          picking.everywhere = on;
          picking.changed();
        }}
      />
    </div>
  </article>
{/if}
{#if !picking.everywhere && (picking.part.picture?.narrow || picking.part.picture?.share)}
  <article class="sheet">
    {#if picking.part.picture.narrow}
      <div class="line">
        <span><b>On phones</b> <span class="soft">it has one of its own</span></span>
        <select
          class="box"
          aria-label="On phones"
          onchange={(e) => narrow(e.currentTarget.value ? { attachment_id: Number(e.currentTarget.value) } : undefined)}
        >
          <option value="">this one, cut to its shape</option>
          {#each all as a (a.id)}
            <option value={a.id} selected={picking.narrow?.attachment_id === a.id}>{a.name}</option>
          {/each}
        </select>
      </div>
    {/if}
    {#if picking.part.picture.share}
      <div class="line">
        <span><b>Share picture</b> <span class="soft">shown where the page is shared</span></span>
        <OnOff
          label="in step"
          on={picking.share}
          onswitch={(on) => {
            picking.share = on;
            picking.changed();
          }}
        />
      </div>
    {/if}
  </article>
{/if}

<style>
  article {
    padding: var(--step-3) var(--step-3h);
    display: grid;
    gap: var(--step-2);
  }
  header,
  .line {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    gap: var(--step-2);
  }
  h3 {
    font-size: var(--size);
  }
  ul {
    display: grid;
    grid-template-columns: repeat(4, minmax(0, 1fr));
    gap: var(--step-1h);
  }
  .pick {
    display: block;
    width: 100%;
    padding: var(--step-half);
    border: 2px solid transparent;
    text-align: left;
    cursor: pointer;
  }
  .pick[aria-pressed='true'] {
    border-color: var(--indigo);
  }
  .pick:hover {
    background: var(--indigo-wash);
  }
  .pick img {
    width: 100%;
    height: 46px;
    object-fit: cover;
    background: var(--linen);
  }
  .pick span {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  select {
    max-width: 180px;
  }
</style>
