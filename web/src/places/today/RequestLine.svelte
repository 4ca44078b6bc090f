<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { zoneOf } from '../../api/session.svelte';
  import { due, momentWords } from '../../look/time';
  import Seam from '../../parts/Seam.svelte';
  import Tile from '../../parts/Tile.svelte';

  let { request: r }: { request: Schemas['RequestRow'] } = $props();

  const to = $derived(
    {
      new: '',
      placed: '',
      'in hand': r.kept ? '/proof' : '',
      'with client': '/proof',
      cleared: '/release',
      live: '/release',
      'signed off': '/release',
      'on hold': '',
      declined: '',
    }[r.state],
  );
  const came = $derived({ mail: 'mail', call: 'a call', page: 'client’s page' }[r.kind]);
  const about = $derived(
    [
      r.site_name,
      r.pictures ? `${came}, ${r.pictures} ${r.pictures === 1 ? 'picture' : 'pictures'}` : came,
      r.wishes ? `${r.wishes} ${r.wishes === 1 ? 'wish' : 'wishes'}, ${r.placed} placed` : '',
      r.round > 1 ? `round ${r.round}` : '',
      r.state === 'with client'
        ? r.opened_at
          ? `opened ${momentWords(r.opened_at, zoneOf(r.site_id))}`
          : 'not opened yet'
        : '',
      r.answered_at && r.state !== 'with client'
        ? `${r.signed_name ? `signed by ${r.signed_name}` : 'answered'} ${momentWords(r.answered_at, zoneOf(r.site_id))}`
        : '',
    ]
      .filter(Boolean)
      .join(' · '),
  );
  const when = $derived(due(r.due_on, zoneOf(r.site_id)));
</script>

<a class="line" href="/requests/{r.number}{to}">
  <Tile initials={r.initials} colour={r.colour} />
  <span class="what"><b>{r.subject}</b><span class="soft small">{about}</span></span>
  <span>
    {#if r.problem}<Seam state="stop">{r.problem}</Seam>
    {:else if r.state === 'with client'}<Seam state="client">proof out</Seam>
    {:else if r.state === 'cleared'}<Seam state="kept">{r.signed_name ? 'signed' : 'cleared'}, {r.kept} not live</Seam>
    {:else if r.state === 'in hand' && r.answered_at}<Seam state="client">answered, not yet right</Seam>
    {:else if r.state === 'live'}<Seam state="live">{r.live} live</Seam>
    {:else if r.state === 'signed off'}<Seam state="signed">signed off</Seam>
    {:else if r.kept > 0}<Seam state="kept">{r.kept} kept, not live</Seam>
    {:else if r.placed > 0}<Seam state="soft">{r.placed} placed</Seam>
    {:else}<Seam state="soft">nothing placed</Seam>{/if}
  </span>
  <span class="due" class:late={when.late}>{when.words}</span>
</a>

<style>
  .line {
    display: grid;
    grid-template-columns: 34px minmax(0, 1fr) 190px 92px;
    gap: var(--step-3);
    align-items: center;
    padding: var(--step-2) var(--step-3);
    color: inherit;
    text-decoration: none;
  }
  .line:hover,
  .line:focus-visible {
    background: var(--indigo-wash);
    box-shadow: inset 3px 0 var(--indigo);
  }
  .what b {
    display: block;
    font-weight: 600;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .what span {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .due {
    font-size: var(--size-s);
    text-align: right;
  }
  .late {
    color: var(--madder);
    font-weight: 600;
  }
</style>
