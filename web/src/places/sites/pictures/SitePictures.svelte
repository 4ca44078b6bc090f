<script lang="ts">
  import { Asked } from '../../../api/asked.svelte';
  import { answer, api } from '../../../api/client';
  import Segments from '../../../look/Segments.svelte';
  import { weight } from '../../../look/time';
  import { complain } from '../../../look/toast';
  import Loaded from '../../../parts/Loaded.svelte';
  import Tile from '../../../parts/Tile.svelte';
  import { route } from '../../../router';
  import Away from './Away.svelte';
  import PictureFacts from './PictureFacts.svelte';
  import { among, counted, findings, type Only, smallOf, under } from './pictures';

  /** The pictures and files of a site: where each is used, how large it is shown there, and what is to be said of it. */
  const site = $derived(Number(route.params.site));
  const asked = new Asked(() => answer(api.GET('/sites/{site}/pictures', { params: { path: { site } } })));
  const view = $derived(asked.got);
  let only = $state<Only>('all');
  let folder = $state('');
  let sought = $state('');
  let chosen = $state('');
  let before = $state('');
  let looking = $state(false);

  $effect(() => {
    void site;
    asked.again();
    const timer = setInterval(() => {
      if (looking || !view?.looked_at || onTheWay.length) asked.again();
    }, 1000);
    return () => clearInterval(timer);
  });
  $effect(() => {
    if (looking && view?.looked_at && view.looked_at !== before) looking = false;
  });
  const all = $derived(view?.pictures ?? []);
  const within = $derived(all.filter((p) => under(p, folder) && counted(p, sought)));
  const shown = $derived(within.filter((p) => among(p, only)));
  const folders = $derived([...new Set(all.map((p) => p.folder))].sort());
  const current = $derived(shown.find((p) => p.path === chosen));
  const onTheWay = $derived((view?.away ?? []).filter((a) => a.state === 'going' || a.state === 'coming'));
  const most = 240; // that are shown at once; the search finds the rest

  const at = $derived({ params: { path: { site } } });
  async function move(asking: Parameters<typeof answer>[0]) {
    try {
      await answer(asking);
      await asked.again();
    } catch (e) {
      complain(e);
    }
  }
  async function look() {
    before = view?.looked_at ?? '';
    looking = true;
    try {
      await answer(api.POST('/sites/{site}/pictures', { params: { path: { site } } }));
      await asked.again();
    } catch (e) {
      looking = false;
      complain(e);
    }
  }
</script>

<svelte:head><title>Pictures of {view?.site_name ?? 'a site'} · Mendry</title></svelte:head>
<Loaded of={asked} />
{#if view}
  <div class="page wrap">
    <header>
      <Tile initials={view.initials} colour={view.colour} size={44} />
      <div>
        <h1>Pictures of {view.site_name}</h1>
        <p class="soft small" role="status">{view.said || 'Nobody has looked at them yet.'}</p>
      </div>
      <span class="acts">
        <a class="btn" href="/sites/{site}">The site</a>
        <button class="btn" onclick={look} disabled={looking}>{looking ? 'Looking…' : 'Look again'}</button>
      </span>
    </header>
    <div class="tools">
      <Segments
        label="Which"
        choices={findings.map((f) => ({
          value: f,
          label: `${f} ${within.filter((p) => among(p, f)).length}`,
        }))}
        bind:value={only}
      />
      <input class="box" type="search" aria-label="Search" placeholder="file, page, words" bind:value={sought} />
    </div>
    <div class="body">
      <nav aria-label="Folders">
        <button aria-pressed={folder === ''} onclick={() => (folder = '')}
          >all folders <span class="soft">{all.length}</span></button
        >
        {#each folders as f (f)}
          <button aria-pressed={folder === f} onclick={() => (folder = f)}
            ><span class="mono">{f || '/'}</span>
            <span class="soft">{all.filter((p) => p.folder === f).length}</span></button
          >
        {/each}
      </nav>
      <ul>
        {#each shown.slice(0, most) as p (p.path)}
          <li>
            <button aria-pressed={chosen === p.path} onclick={() => (chosen = chosen === p.path ? '' : p.path)}>
              {#if p.kind}<span class="none kind">{p.kind}</span>
              {:else if p.said}<span class="none small">cannot be shown</span>
              {:else}<img src={smallOf(site, p.path, 320)} alt="" loading="lazy" />{/if}
              <span class="name small mono">{p.path.split('/').at(-1)}</span>
              <span class="small soft"
                >{p.kind ? weight(p.size) : p.width ? `${p.width} × ${p.height}` : 'no size'}</span
              >
              {#if p.findings.length}<span class="small is-kept">{p.findings.join(', ')}</span>{/if}
            </button>
          </li>
        {:else}
          <li class="empty soft">{all.length ? 'No picture is like that.' : 'There is no picture yet.'}</li>
        {/each}
        {#if shown.length > most}<li class="empty soft">And {shown.length - most} more: search for them.</li>{/if}
      </ul>
      {#if current}<PictureFacts
          {site}
          picture={current}
          going={onTheWay.some((a) => a.path === current.path)}
          onclose={() => (chosen = '')}
          onaway={() => move(api.POST('/sites/{site}/away', { ...at, body: { path: current.path } }))}
        />{/if}
    </div>
    {#if view.away.length}<Away
        away={view.away}
        onback={(a) => move(api.POST('/sites/{site}/away/{away}/back', { params: { path: { site, away: a.id } } }))}
      />{/if}
  </div>
{/if}

<style>
  .wrap {
    display: grid;
    gap: var(--step-3);
  }
  header,
  .tools {
    display: flex;
    gap: var(--step-3);
    align-items: center;
  }
  .acts {
    margin-left: auto;
    display: flex;
    gap: var(--step-2);
  }
  .tools input {
    margin-left: auto;
    width: 260px;
  }
  .body {
    display: flex;
    gap: var(--step-5);
    align-items: start;
  }
  nav {
    flex: none;
    width: 170px;
    display: grid;
  }
  nav button {
    display: flex;
    justify-content: space-between;
    gap: var(--step-2);
    padding: var(--step-1h) var(--step-2);
    text-align: left;
    overflow-wrap: anywhere;
    cursor: pointer;
  }
  nav button[aria-pressed='true'] {
    background: var(--indigo-wash);
    font-weight: 600;
  }
  ul {
    flex: 1;
    min-width: 0;
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
    gap: var(--step-3);
  }
  li button {
    display: grid;
    width: 100%;
    gap: var(--step-half);
    padding: var(--step-1h);
    border: 1.5px solid var(--hem);
    border-radius: var(--radius);
    background: var(--paper);
    text-align: left;
    cursor: pointer;
  }
  li button:hover {
    border-color: var(--indigo);
  }
  li button[aria-pressed='true'] {
    border-color: var(--indigo);
    box-shadow: 0 0 0 1.5px var(--indigo);
  }
  img,
  .none {
    width: 100%;
    height: 96px;
    object-fit: contain;
    background: var(--linen);
  }
  .none {
    display: grid;
    place-items: center;
    color: var(--ink-soft);
  }
  .kind {
    font-weight: 600;
    font-size: var(--size-l);
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .empty {
    grid-column: 1 / -1;
  }
</style>
