<script lang="ts">
  import { untrack } from 'svelte';
  import { Asked } from '../../api/asked.svelte';
  import { answer, api } from '../../api/client';
  import Loaded from '../../parts/Loaded.svelte';
  import SmallPage from '../../parts/SmallPage.svelte';
  import Seam from '../../parts/Seam.svelte';
  import Tile from '../../parts/Tile.svelte';

  const sites = new Asked(() => answer(api.GET('/sites')));
  const pictured = $derived(!!sites.got?.some((s) => s.front));
  $effect(() => {
    void sites.again();
    // Their start pages are known by their looks; where they cannot be drawn, the list is as good without.
    void api.POST('/small-pages').then(() => sites.again());
    let looks = 8;
    const timer = setInterval(() => {
      if (looks-- > 0 && untrack(() => sites.got?.some((s) => s.state === 'ready' && !s.front))) void sites.again();
    }, 2500);
    return () => clearInterval(timer);
  });
</script>

<svelte:head><title>Sites · Mendry</title></svelte:head>
<div class="page wrap">
  <header class="head">
    <h1>Sites</h1>
    <a class="btn go" href="/sites/add">Add a site</a>
  </header>
  <Loaded of={sites}>
    {#snippet children(all)}
      <ul class="sheet">
        {#each all as s (s.id)}
          <li>
            <a class={['line', { pictured }]} href="/sites/{s.id}">
              <Tile initials={s.initials} colour={s.colour} />
              {#if pictured}<SmallPage page={s.front ?? { id: 0 }} />{/if}
              <span class="name"><b>{s.name}</b><span class="soft small">{s.client_name} · {s.public_url}</span></span>
              <span class="small">{s.pages} pages{s.locked_pages ? `, ${s.locked_pages} locked` : ''}</span>
              <span class="small">{s.open_requests} {s.open_requests === 1 ? 'request' : 'requests'} open</span>
              <span>
                {#if s.state === 'failed'}<Seam state="stop">not taken in</Seam>
                {:else if s.state !== 'ready'}<Seam state="soft">{s.said || 'being taken in'}</Seam>
                {:else if s.elsewhere > 0}<Seam state="stop">{s.elsewhere} edited elsewhere</Seam>
                {:else if s.kept > 0}<Seam state="kept">{s.kept} kept, not live</Seam>
                {:else}<Seam state="sure">all live</Seam>{/if}
              </span>
            </a>
          </li>
        {:else}
          <li class="none soft">
            No site yet. Add the first one: its host’s address, its public address and a password are all it takes.
          </li>
        {/each}
      </ul>
    {/snippet}
  </Loaded>
</div>

<style>
  .wrap {
    max-width: 1240px;
    margin: 0 auto;
  }
  .head {
    display: flex;
    justify-content: space-between;
    align-items: center;
    margin-bottom: var(--step-3h);
  }
  .line {
    display: grid;
    grid-template-columns: 34px minmax(0, 1fr) 130px 140px 190px;
    gap: var(--step-3h);
    align-items: center;
    padding: var(--step-3) var(--step-3h);
    color: inherit;
    text-decoration: none;
  }
  .line.pictured {
    grid-template-columns: 34px 64px minmax(0, 1fr) 130px 140px 190px;
  }
  .line:hover {
    background: var(--indigo-wash);
  }
  li + li {
    border-top: 1px solid var(--hem);
  }
  .name b,
  .name span {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .none {
    padding: var(--step-7);
  }
</style>
