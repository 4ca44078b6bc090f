<script lang="ts">
  import { untrack } from 'svelte';
  import { Asked } from '../../api/asked.svelte';
  import { answer, api, type Schemas } from '../../api/client';
  import { ahead, anAct } from '../../look/ahead';
  import { complain } from '../../look/toast';
  import type { BenchPage } from './desk.svelte';
  import { ofWords } from './editors';
  import { choosePages } from './shared';

  /** Says that a part is on many pages, or stands in one that is, and where that differs; asks on which of them it is changed. */
  let {
    bench,
    desk,
    number,
    part,
    root,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    number: number;
    part: Schemas['Part'];
    /** The shared part itself, or what the part stands in. */
    root: Schemas['Part'];
  } = $props();

  const asked = new Asked(() =>
    answer(
      api.GET('/requests/{number}/bench/{page}/shared', {
        params: { path: { number, page: bench.page.id }, query: { part: part.id } },
      }),
    ),
  );
  $effect(() => {
    if (root.id) untrack(() => asked.again());
  });
  const differing = $derived(asked.got?.differing ?? []);
  const differs = $derived(
    differing.length ? `, and differs on ${differing.length}${asked.got?.more ? ' or more' : ''}` : '',
  );
  const name = $derived(root.name.replace(/[“”]/g, ''));
  const pages = $derived(root.shared.match(/\d+/)?.[0] ?? '');
  let busy = $state(false);
  let again = $state(false); // it is asked though it was said

  async function choose(everywhere: boolean) {
    busy = true;
    if (ofWords(part) && !root.reach) ahead.comes(anAct);
    try {
      await choosePages(desk, number, bench.page.id, root.id, everywhere);
      again = false;
    } catch (e) {
      ahead.goes();
      complain(e);
    } finally {
      busy = false;
    }
  }
</script>

{#snippet where()}
  {#if differing.length}
    <details>
      <summary>Where it differs, and how</summary>
      <ul>
        {#each differing as d (d.page_id)}
          <li>
            <a class="mono" href="/requests/{number}/bench/{d.page_id}">{d.address}</a>
            {d.say}
          </li>
        {/each}
      </ul>
    </details>
  {/if}
{/snippet}

{#if !root.reach || again}
  <section class="said look" aria-label="On which pages">
    <p>
      {#if root.id === part.id}This part{:else}It stands in “{name}”, which{/if}
      {root.shared}{differs}. Change it on
    </p>
    <p class="acts">
      <button class="btn slim" disabled={busy} onclick={() => choose(true)}>all {pages} pages</button>
      <button class="btn slim" disabled={busy} onclick={() => choose(false)}>this page only</button>
      {#if again}<button class="btn slim quiet" disabled={busy} onclick={() => (again = false)}>Leave it</button>{/if}
    </p>
    {@render where()}
  </section>
{:else}
  <div class="said small" class:look={root.reach === 'all'} role="note" aria-label="On which pages">
    <p>
      {#if root.reach === 'all'}Changes on <b>all {pages} pages</b> that have “{name}”{differs.replace(
          ', and',
          '; it',
        )}.{:else}Changes on
        <b>this page only</b>; “{name}” {root.shared}.{/if}
      <button class="plain" onclick={() => (again = true)}>Say otherwise</button>
    </p>
    {@render where()}
  </div>
{/if}

<style>
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-2);
    margin-top: var(--step-1h);
  }
  .plain {
    text-decoration: underline;
    cursor: pointer;
  }
  details {
    margin-top: var(--step);
  }
  summary {
    cursor: pointer;
    text-decoration: underline;
  }
  ul {
    max-height: 120px;
    overflow: auto;
  }
  li {
    padding: var(--step-half) 0;
    overflow-wrap: anywhere;
  }
</style>
