<script lang="ts">
  import { Asked } from '../../api/asked.svelte';
  import { answer, api } from '../../api/client';
  import Fold from '../../look/Fold.svelte';
  import Loaded from '../../parts/Loaded.svelte';

  /** Every link of the page, tried; those that are wrong first. */
  let { number, page, onchoose }: { number: number; page: number; onchoose: (part: string) => void } = $props();
  const weight = { stop: 0, look: 1, fine: 2 };
  const links = new Asked(async () => {
    const at = { params: { path: { number, page } } };
    const got = await answer(api.GET('/requests/{number}/bench/{page}/links', at));
    return got.toSorted((a, b) => weight[a.level] - weight[b.level]);
  });
</script>

<Fold
  title="Links of this page"
  look="btn slim"
  onopen={() => {
    links.got = undefined; // they may have changed since
    links.again();
  }}
>
  <Loaded of={links} small say="Trying every link. You can go on meanwhile.">
    {#snippet children(all)}
      <ul>
        {#each all as l (l.part)}
          <li>
            <button onclick={() => onchoose(l.part)}>
              <b class="mono small is-{l.level}">{l.level}</b>
              <span>{l.words || 'a link without words'} <span class="mono small soft">{l.href}</span></span>
              {#if l.say}<span class="small say">{l.say}</span>{/if}
            </button>
          </li>
        {:else}
          <li class="small soft">The page has no links.</li>
        {/each}
      </ul>
    {/snippet}
  </Loaded>
</Fold>

<style>
  ul {
    width: 100%;
    max-height: 260px;
    overflow: auto;
    border-top: 1px solid var(--hem);
  }
  li {
    border-bottom: 1px solid var(--hem);
  }
  li button {
    width: 100%;
    display: grid;
    grid-template-columns: 40px minmax(0, 1fr);
    gap: var(--step-half) var(--step-1h);
    padding: var(--step-1h) var(--step-half);
    text-align: left;
    cursor: pointer;
    overflow-wrap: anywhere;
  }
  li button:hover {
    background: var(--indigo-wash);
  }
  .say {
    grid-column: 2;
  }
</style>
