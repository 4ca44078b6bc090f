<script lang="ts">
  import { answer, api, words, type Schemas } from '../../api/client';

  /** Every link of the page, tried; those that are wrong first. */
  let { number, page, onchoose }: { number: number; page: number; onchoose: (part: string) => void } = $props();
  let open = $state(false);
  let links = $state<Schemas['PageLink'][] | undefined>();
  let problem = $state('');
  const weight = { stop: 0, look: 1, fine: 2 };

  async function show() {
    open = !open;
    if (!open) return;
    links = undefined;
    try {
      const got = await answer(
        api.GET('/requests/{number}/bench/{page}/links', { params: { path: { number, page } } }),
      );
      links = got.toSorted((a, b) => weight[a.level] - weight[b.level]);
      problem = '';
    } catch (e) {
      problem = words(e);
    }
  }
</script>

<button class="btn slim" aria-expanded={open} onclick={show}>Links of this page</button>
{#if open}
  {#if problem}<p class="said small" role="alert">{problem}</p>{/if}
  {#if links}
    <ul>
      {#each links as l (l.part)}
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
  {:else if !problem}<p class="small soft" role="status">Trying every link. You can go on meanwhile.</p>{/if}
{/if}

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
    gap: 2px 6px;
    padding: 5px 2px;
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
