<script lang="ts">
  import { Asked } from '../../api/asked.svelte';
  import { answer, api, type Schemas } from '../../api/client';
  import { refresh } from '../../api/session.svelte';
  import Loaded from '../../parts/Loaded.svelte';
  import { longDay } from '../../look/time';
  import Fortnight from './Fortnight.svelte';
  import Nothing from './Nothing.svelte';
  import Odd from './Odd.svelte';
  import RequestLine from './RequestLine.svelte';

  let whole = $state<string | undefined>(); // the group that is shown to its end
  const today = new Asked(() => answer(api.GET('/today', { params: { query: { whole } } })));
  $effect(() => void today.again());
  refresh();

  /** The request that needs somebody first: the one due soonest of those that do not wait for the client; of several, the
   * nearest to being live. */
  function needsYou(t: Schemas['Today']) {
    const ours = t.groups.filter((g) => !['With the client', 'On hold'].includes(g.name)).flatMap((g) => g.requests);
    return ours.sort((a, b) => (a.due_on ?? '9').localeCompare(b.due_on ?? '9'))[0];
  }
</script>

<svelte:head><title>Today · Mendry</title></svelte:head>
<Loaded of={today}>
  {#snippet children(t)}
    {@const first = needsYou(t)}
    <div class="today">
      <section>
        <header class="head">
          <h1>{longDay(t.day)}</h1>
          {#if first}<a class="first" href="/requests/{first.number}">First: {first.subject}</a>{/if}
          {#if t.open}
            <span class="soft"
              >{t.open}
              {t.open === 1 ? 'request' : 'requests'} open on {t.sites}
              {t.sites === 1 ? 'site' : 'sites'}</span
            >
          {/if}
        </header>
        {#each t.groups as g (g.name)}
          <section class="group" aria-label={g.name}>
            <h2>{g.name} <span>{g.hint}</span></h2>
            <ul class="sheet">
              {#each g.requests as r (r.number)}<li><RequestLine request={r} /></li>{/each}
              {#if g.total > g.requests.length}
                <li class="rest">
                  <button class="btn slim quiet" onclick={() => (whole = g.name)}
                    >Show all {g.total}, {g.total - g.requests.length} more</button
                  >
                </li>
              {/if}
            </ul>
          </section>
        {:else}
          <Nothing />
        {/each}
      </section>
      <aside>
        <Fortnight rows={t.fortnight} day={t.day} />
        <Odd items={t.odd} />
      </aside>
    </div>
  {/snippet}
</Loaded>

<style>
  .today {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 452px;
    gap: var(--step-5);
    padding: var(--step-5);
    max-width: 1500px;
    margin: 0 auto;
  }
  .head {
    display: flex;
    align-items: baseline;
    gap: var(--step-4);
    margin-bottom: var(--step-3);
  }
  .first {
    font-weight: 600;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .head > :not(.first) {
    flex: none;
  }
  .group {
    margin-bottom: var(--step-3h);
  }
  .rest {
    padding: var(--step-2) var(--step-3h);
  }
  h2 {
    font-size: var(--size);
    display: flex;
    gap: var(--step-2h);
    align-items: baseline;
    padding: 0 var(--step-half) var(--step-1h);
  }
  h2 span {
    font: 500 var(--size-s) var(--text);
    letter-spacing: 0;
    color: var(--ink-soft);
  }
  li + li {
    border-top: 1px solid var(--hem);
  }
  aside {
    display: grid;
    gap: var(--step-4);
    align-content: start;
  }
  @media (max-width: 1100px) {
    .today {
      grid-template-columns: 1fr;
    }
  }
</style>
