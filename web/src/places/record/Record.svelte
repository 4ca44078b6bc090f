<script lang="ts">
  import { searchParams } from 'sv-router';
  import { Asked } from '../../api/asked.svelte';
  import { answer, api, type Schemas } from '../../api/client';
  import { zoneOf } from '../../api/session.svelte';
  import { momentWords } from '../../look/time';
  import Loaded from '../../parts/Loaded.svelte';
  import Runs from '../../parts/Runs.svelte';
  import { go } from '../../router';

  const number = (name: string) => Number(searchParams.get(name)) || undefined;
  const [site, request, page] = $derived([number('site'), number('request'), number('page')]);
  const record = new Asked(() => answer(api.GET('/record', { params: { query: { site, request, page } } })));
  $effect(() => void record.again());
  const view = $derived(record.got);
  let sites = $state<Schemas['Site'][]>([]);
  answer(api.GET('/sites')).then(
    (s) => (sites = s),
    () => {},
  );
  const query = $derived(request ? `request=${request}` : site ? `site=${site}` : '');
  const about = $derived(
    request
      ? `request ${request}`
      : page
        ? 'one page'
        : site
          ? (sites.find((s) => s.id === site)?.name ?? 'one site')
          : 'all sites',
  );
</script>

<svelte:head><title>Record · Mendry</title></svelte:head>
<div class="page wrap">
  <header>
    <h1>Record</h1>
    <span class="soft">{about}</span>
    <label class="pick"
      ><span class="unseen">Site</span><select
        class="box"
        value={site ?? 0}
        onchange={(e) => go(Number(e.currentTarget.value) ? `/record?site=${e.currentTarget.value}` : '/record')}
        ><option value={0}>all sites</option>{#each sites as s (s.id)}<option value={s.id}>{s.name}</option
          >{/each}</select
      ></label
    >
    {#if query}<a class="btn" href="/api/record/export?{query}" download>Hand over as JSON</a>{/if}
  </header>
  <Loaded of={record} />
  {#if view}
    {#if view.whole && view.entries.length === 0}
      <p class="sheet none soft">Nothing has happened yet. What is changed on a site, by whom and why, is kept here.</p>
    {:else if view.whole}
      <p class="said fine" role="status">The record is whole: every entry follows from the one before it.</p>
    {:else}
      <p class="said" role="alert"><b>The record was altered.</b> {view.fault}</p>
    {/if}
    <ol class={{ sheet: view.entries.length }}>
      {#each view.entries as e (e.site_id + '-' + e.n)}
        <li>
          <span class="small soft when">{momentWords(e.at, zoneOf(e.site_id))}</span>
          <div>
            <p><b>{e.what}</b> <span class="soft small">{e.who}</span></p>
            <p class="small">{e.say}</p>
            {#each e.changes as c, i (i)}<p class="small change">
                <span class="soft">{c.name}</span>
                <Runs runs={c.words} />
              </p>{/each}
          </div>
          <span class="small where">
            {e.site_name}{#if e.request}, <a href="/record?request={e.request}">request {e.request}</a
              >{/if}{#if e.page}, <a href="/record?page={e.page}">this page</a>{/if}
            <br /><span class="mono soft" title={e.hash}>{e.n} · {e.hash.slice(0, 10)}</span>
          </span>
        </li>
      {/each}
    </ol>
  {/if}
</div>

<style>
  .wrap {
    max-width: 1120px;
    margin: 0 auto;
    display: grid;
    gap: var(--step-3h);
  }
  header {
    display: flex;
    gap: var(--step-3h);
    align-items: center;
  }
  .pick {
    margin-left: auto;
    width: 230px;
  }
  li {
    display: grid;
    grid-template-columns: 120px minmax(0, 1fr) 270px;
    gap: var(--step-3h);
    padding: var(--step-2) var(--step-4);
    font-size: var(--size-m);
  }
  li + li {
    border-top: 1px solid var(--hem);
  }
  .where {
    text-align: right;
  }
  .when {
    padding-top: var(--step-half);
  }
  .change {
    margin-top: var(--step);
  }
  .none {
    padding: var(--step-5) var(--step-4);
  }
</style>
