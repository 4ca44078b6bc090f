<script lang="ts">
  import type { Schemas } from '../../api/client';

  /** Places that were found: where each lies and what stands there. */
  let {
    found,
    sites = false,
    none,
    onchoose,
  }: {
    found: Schemas['Found'][];
    /** Says the site of each. */
    sites?: boolean;
    none: string;
    onchoose: (f: Schemas['Found']) => void;
  } = $props();
</script>

<ul aria-live="polite">
  {#each found as f, i (i)}
    <li>
      <button onclick={() => onchoose(f)}>
        <span class="where">
          {#if sites}<b>{f.site_name}</b>{/if}
          <span class="mono">{f.address}</span>
          <span class="soft small">{f.part_name || `the page “${f.title}”`}</span>
        </span>
        {#if f.draft}<span class="is-kept small">kept in {f.request}, not live</span>
        {:else if sites}<span class="soft small">{f.request ? `bench, request ${f.request}` : 'starts a request'}</span
          >{/if}
        {#if f.around.length}
          <!-- prettier-ignore -->
          <span class="around">{#each f.around as r, k (k)}{#if r.is === 'new'}<mark>{r.text}</mark>{:else}{r.text}{/if}{/each}</span>
        {/if}
      </button>
    </li>
  {:else}
    <li class="soft small none">{none}</li>
  {/each}
</ul>

<style>
  ul {
    border: 1px solid var(--hem);
    border-top: 0;
    max-height: 300px;
    overflow: auto;
    background: var(--paper);
  }
  li + li {
    border-top: 1px solid var(--hem);
  }
  button {
    width: 100%;
    text-align: left;
    padding: 7px 10px;
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    gap: 2px 10px;
    align-items: baseline;
    cursor: pointer;
  }
  button:hover,
  button:focus-visible {
    background: var(--indigo-wash);
    outline-offset: -2px;
  }
  .where {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .where > * {
    margin-right: 6px;
  }
  .around {
    grid-column: 1 / -1;
  }
  mark {
    background: var(--weld-wash);
    color: inherit;
    font-weight: 600;
  }
  .none {
    padding: 8px 10px;
  }
</style>
