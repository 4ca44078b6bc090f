<script lang="ts">
  import { Asked } from '../../../api/asked.svelte';
  import { answer, api } from '../../../api/client';
  import { weight } from '../../../look/time';
  import Loaded from '../../../parts/Loaded.svelte';
  import Tile from '../../../parts/Tile.svelte';
  import { smallOf } from './pictures';

  /** The pictures of every site: how many, how heavy, and some of them to know the site by. */
  const asked = new Asked(() => answer(api.GET('/pictures')));
  void asked.again();
  let sought = $state('');
</script>

<svelte:head><title>Pictures · Mendry</title></svelte:head>
<div class="page wrap">
  <header>
    <h1>Pictures</h1>
    <input class="box" type="search" aria-label="Search a site" placeholder="a site" bind:value={sought} />
  </header>
  <Loaded of={asked}>
    {#snippet children(all)}
      {@const shown = all.filter((s) => s.name.toLowerCase().includes(sought.trim().toLowerCase()))}
      <ul class="sheet">
        {#each shown as s (s.site_id)}
          <li>
            <a href="/sites/{s.site_id}/pictures">
              <Tile initials={s.initials} colour={s.colour} />
              <span class="name"
                ><b>{s.name}</b><span class="small soft"
                  >{s.looked_at
                    ? `${s.pictures} ${s.pictures === 1 ? 'picture' : 'pictures'}, ${weight(s.size)}`
                    : s.said || 'nobody has looked at them yet'}</span
                ></span
              >
              <span class="strip" aria-hidden="true">
                {#each s.first as path (path)}<img src={smallOf(s.site_id, path, 160)} alt="" loading="lazy" />{/each}
              </span>
              <span class="small"
                >{#if s.unnamed}{s.unnamed} used nowhere{/if}</span
              >
            </a>
          </li>
        {:else}
          <li class="none soft">
            {all.length ? 'No site has that name.' : 'No site yet. When one is added, its pictures are looked at.'}
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
  header {
    display: flex;
    justify-content: space-between;
    align-items: center;
    margin-bottom: var(--step-3h);
  }
  header .box {
    width: 260px;
  }
  a {
    display: grid;
    grid-template-columns: 34px 270px minmax(0, 1fr) 130px;
    gap: var(--step-3h);
    align-items: center;
    padding: var(--step-2) var(--step-3h);
    color: inherit;
    text-decoration: none;
  }
  a:hover {
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
  .strip {
    display: flex;
    gap: var(--step-1h);
    height: 54px;
    overflow: hidden;
  }
  .strip img {
    width: 84px;
    height: 54px;
    object-fit: cover;
    background: var(--linen);
  }
  .none {
    padding: var(--step-5);
  }
</style>
