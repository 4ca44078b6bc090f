<script lang="ts">
  import type { Schemas } from '../../api/client';

  /** A place that was found: where it lies and what stands there. */
  let {
    f,
    sites,
  }: {
    f: Schemas['Found'];
    /** Says its site. */
    sites: boolean;
  } = $props();
</script>

<span class="found">
  <span class="where">
    {#if sites}<b>{f.site_name}</b>{/if}
    <span class="mono">{f.address}</span>
    <span class="soft small">{f.part_name || `the page “${f.title}”`}</span>
  </span>
  {#if f.draft}<span class="is-kept small">kept in {f.request}, not live</span>
  {:else if sites}<span class="soft small">{f.request ? `bench, request ${f.request}` : 'starts a request'}</span>{/if}
  {#if f.around.length}
    <!-- prettier-ignore -->
    <span class="around">{#each f.around as r, k (k)}{#if r.is === 'new'}<mark>{r.text}</mark>{:else}{r.text}{/if}{/each}</span>
  {/if}
</span>

<style>
  .found {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    gap: var(--step-half) var(--step-2h);
    align-items: baseline;
    text-align: left;
    white-space: normal;
  }
  .where {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .where > * {
    margin-right: var(--step-1h);
  }
  .around {
    grid-column: 1 / -1;
  }
  mark {
    background: var(--weld-wash);
    color: inherit;
    font-weight: 600;
  }
</style>
