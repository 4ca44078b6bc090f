<script lang="ts">
  import type { Schemas } from '../../api/client';
  import Tile from '../../parts/Tile.svelte';
  import { route } from '../../router';

  /** The head of a request: what it is, and its four rooms. */
  let { row, page, children }: { row: Schemas['RequestRow']; page?: number; children?: import('svelte').Snippet } =
    $props();
  const base = $derived(`/requests/${row.number}`);
  const rooms = $derived([
    { name: 'Read and place', to: base },
    { name: 'Bench', to: page ? `${base}/bench/${page}` : `${base}/bench` },
    { name: 'Proof', to: `${base}/proof` },
    { name: 'Release', to: `${base}/release` },
  ]);
  const here = (to: string) => route.pathname === to || (to.includes('/bench') && route.pathname.includes('/bench'));
</script>

<header class="top">
  <Tile initials={row.initials} colour={row.colour} />
  <div class="what">
    <h1>{row.subject}</h1>
    <p class="soft small">request {row.number} · {row.site_name} · {row.state}</p>
  </div>
  <nav aria-label="Rooms of this request">
    {#each rooms as r (r.name)}
      <a href={r.to} aria-current={here(r.to) ? 'page' : undefined}>{r.name}</a>
    {/each}
  </nav>
  <span class="acts">{@render children?.()}</span>
</header>

<style>
  .top {
    display: flex;
    align-items: center;
    gap: var(--step-3h);
    padding: var(--step-2h) var(--step-5);
    border-bottom: 1px solid var(--hem);
    background: var(--paper);
  }
  .what {
    min-width: 0;
    flex: 1;
  }
  h1 {
    font-size: var(--size-h);
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  nav {
    display: flex;
    gap: var(--step-half);
  }
  nav a {
    color: var(--ink-soft);
    text-decoration: none;
    padding: var(--step-1h) var(--step-2h);
    border-bottom: 2.5px solid transparent;
    white-space: nowrap;
  }
  nav a[aria-current] {
    color: var(--ink);
    font-weight: 600;
    border-color: var(--indigo);
  }
  nav a:hover {
    color: var(--ink);
  }
  .acts {
    display: flex;
    gap: var(--step-2);
  }
</style>
