<script lang="ts">
  import { Asked } from '../../api/asked.svelte';
  import { answer, api } from '../../api/client';
  import { complain } from '../../look/toast';
  import Moving from '../../look/Moving.svelte';
  import Loaded from '../../parts/Loaded.svelte';
  import Tile from '../../parts/Tile.svelte';
  import { route } from '../../router';
  import RequestLine from '../today/RequestLine.svelte';
  import HostKnows from './HostKnows.svelte';
  import PageTree from './PageTree.svelte';
  import SiteWords from './SiteWords.svelte';

  const id = $derived(Number(route.params.site));
  const asked = new Asked(() => answer(api.GET('/sites/{site}', { params: { path: { site: id } } })));
  const view = $derived(asked.got);
  let filter = $state('');
  const few = 3; // requests, below which the pages are seen without scrolling
  let all = $state(false);
  const pages = $derived(
    (view?.pages ?? []).filter((p) => `${p.address} ${p.title}`.toLowerCase().includes(filter.trim().toLowerCase())),
  );

  let wanted = 0; // looks at the small pictures of the pages, while they are being taken
  $effect(() => {
    asked.again();
    wanted = 40;
    // Where they cannot be taken the list is as good without them.
    void api.POST('/sites/{site}/small-pages', { params: { path: { site: id } } }).then(() => asked.again());
    const timer = setInterval(() => {
      if (view && (view.site.state === 'taking in' || view.site.state === 'new')) asked.again();
    }, 700);
    const pictures = setInterval(() => {
      if (wanted-- > 0 && view?.picturing) asked.again();
    }, 3000);
    return () => {
      clearInterval(timer);
      clearInterval(pictures);
    };
  });

  async function takeIn() {
    try {
      await answer(api.POST('/sites/{site}/take-in', { params: { path: { site: id } } }));
      await asked.again();
    } catch (e) {
      complain(e);
    }
  }
</script>

<svelte:head><title>{view?.site.name ?? 'Site'} · Mendry</title></svelte:head>
<Loaded of={asked} />
{#if view}
  {@const s = view.site}
  <div class="page wrap">
    <header class="head">
      <Tile initials={s.initials} colour={s.colour} size={44} />
      <div>
        <h1>{s.name}</h1>
        <p class="soft small">
          {s.client_name} · <a href={s.public_url} target="_blank" rel="noopener">{s.public_url}</a>
          {#if s.host_kind === 'hand'}
            {#if s.host_url}· edited at <a href={s.host_url} target="_blank" rel="noopener">{s.host_url}</a>{/if}
          {:else}
            · host {s.host_url}{s.host_user ? ` as ${s.host_user}` : ''}
          {/if} · clock {s.zone}
        </p>
      </div>
      <span class="acts">
        <a class="btn" href="/sites/{s.id}/pictures">Pictures</a>
        <a class="btn" href="/record?site={s.id}">Record</a>
        <button class="btn" onclick={takeIn} disabled={s.state === 'taking in'}>Take in again</button>
      </span>
    </header>
    {#if s.state === 'taking in' || s.state === 'new'}
      <p class="said look" role="status">
        {s.said || 'Taking in the pages'}{s.files_all ? `: ${s.files_seen} of ${s.files_all}` : ''}. You can leave; it
        goes on.
        <Moving label="How far it has come" done={s.files_seen} of={s.files_all} />
      </p>
    {:else if s.state === 'failed'}
      <p class="said" role="alert">{s.said}</p>
    {/if}
    {#if s.host_reads_only || s.state === 'failed'}<HostKnows site={s} onchange={() => asked.again()} />{/if}
    {#if view.requests.length > 0}
      <h2>Requests</h2>
      <ul class="sheet">
        {#each view.requests.slice(0, all ? undefined : few) as r (r.number)}<li><RequestLine request={r} /></li>{/each}
      </ul>
      {#if view.requests.length > few}
        <p>
          <button class="btn slim quiet" aria-expanded={all} onclick={() => (all = !all)}
            >{all ? 'Fewer' : `All ${view.requests.length} requests`}</button
          >
        </p>
      {/if}
    {/if}
    <div class="tools">
      <h2>{view.pages.length} pages</h2>
      <input class="box" aria-label="Narrow the list of pages" placeholder="address or title" bind:value={filter} />
    </div>
    <PageTree {pages} publicUrl={s.public_url} flat={!!filter.trim()} zone={s.zone} requests={view.requests} />
    {#if s.host_tried_at && !s.host_reads_only && s.state !== 'failed'}
      <h2>The host</h2>
      <HostKnows site={s} onchange={() => asked.again()} />
    {/if}
    <SiteWords site={s.id} words={view.words} onchange={() => asked.again()} />
  </div>
{/if}

<style>
  .wrap {
    max-width: 1240px;
    margin: 0 auto;
    display: grid;
    gap: var(--step-3h);
  }
  .head {
    display: flex;
    gap: var(--step-3h);
    align-items: center;
  }
  .acts {
    margin-left: auto;
    display: flex;
    gap: var(--step-2h);
  }
  h2 {
    font-size: var(--size-l);
  }
  .tools {
    display: flex;
    justify-content: space-between;
    align-items: end;
  }
  .tools .box {
    width: 260px;
  }
  li + li {
    border-top: 1px solid var(--hem);
  }
</style>
