<script lang="ts">
  import { publicAddress } from '../../look/address';
  import type { Schemas } from '../../api/client';
  import { dayWords, momentWords, weight } from '../../look/time';
  import SmallPage from '../../parts/SmallPage.svelte';
  import PageWays from './PageWays.svelte';

  /** A site's pages, each under the one that it lies under, in the order of the menu. */
  let {
    pages,
    publicUrl,
    flat,
    zone,
    requests,
  }: {
    pages: Schemas['PageRow'][];
    publicUrl: string;
    flat: boolean;
    zone?: string;
    requests: Schemas['RequestRow'][];
  } = $props();
  /** Some page has a picture; without Chromium none has, and no room is kept for them. */
  const pictured = $derived(pages.some((p) => p.small));
  const open = $derived(requests.filter((r) => !['signed off', 'declined'].includes(r.state)));
</script>

<div class="sheet">
  <p class="row head small soft" aria-hidden="true">
    <span>Page</span><span>Title</span><span>Stands</span><span>Last written</span><span class="right">Weight</span
    ><span></span>
  </p>
  <ul>
    {#each pages as p (p.id)}
      <li class="row">
        <span class="at" style:padding-left="{flat ? 0 : (p.depth ?? 0) * 24}px">
          {#if pictured}<SmallPage page={p} />{/if}
          <a class="mono" href={publicAddress(publicUrl, p.address)} target="_blank" rel="noopener">{p.address}</a>
        </span>
        <span class="title">{p.title}</span>
        <span class="small">
          {#if p.elsewhere_at}<span class="is-stop">edited elsewhere</span>
          {:else if p.locked}<span class="is-look">locked</span>
          {:else if p.kept}<span class="is-kept">{p.kept} kept</span>
          {:else}<span class="is-live">live</span>{/if}
          {#if p.hidden}<span class="soft">· kept out of searches</span>{/if}
          {#if p.dated}<span class="soft">· of {dayWords(p.dated)}</span>{/if}
        </span>
        <span class="small soft">{p.changed_at ? momentWords(p.changed_at, zone) : `never by Mendry`}</span>
        <span class="small soft right" title={p.encoding}>{weight(p.size)}</span>
        {#if !p.locked}<span class="right"><PageWays page={p} requests={open} /></span>{/if}
        {#if p.locked}<p class="small why">{p.locked}</p>{/if}
      </li>
    {/each}
  </ul>
</div>

<style>
  li,
  .head + ul {
    border-top: 1px solid var(--hem);
  }
  .row {
    display: grid;
    grid-template-columns: 290px minmax(0, 1fr) 160px 180px 60px 74px;
    gap: var(--step-3);
    padding: var(--step-2) var(--step-3h);
    align-items: center;
  }
  .at {
    display: flex;
    gap: var(--step-2h);
    align-items: center;
  }
  .at a {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .at,
  .title {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .right {
    text-align: right;
  }
  .why {
    grid-column: 2 / -1;
    color: var(--weld);
  }
</style>
