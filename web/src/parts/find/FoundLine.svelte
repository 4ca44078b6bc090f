<script lang="ts">
  import type { Schemas } from '../../api/client';
  import SmallPage from '../SmallPage.svelte';

  /** A place that was found: where it lies and what stands there. */
  let {
    f,
    sites,
    pictured,
    again,
  }: {
    f: Schemas['Found'];
    /** Says its site. */
    sites: boolean;
    /** Some place stands on a page of which there is a small picture. */
    pictured: boolean;
    /** It stands on the same page as the place before it. */
    again: boolean;
  } = $props();
</script>

<span class={['found', { pictured }]}>
  {#if pictured}<span class="of"
      >{#if !again}<SmallPage page={{ id: f.page_id, small: f.small }} />{/if}</span
    >{/if}
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
  .pictured {
    grid-template-columns: 64px minmax(0, 1fr) auto;
  }
  .of {
    grid-row: 1 / 3;
    align-self: start;
  }
  .pictured .around {
    grid-column: 2 / -1;
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
