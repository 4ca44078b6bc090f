<script module lang="ts">
  /** What is typed of why words stay, by change: the margin may be drawn anew under it. */
  const reasons: Record<number, string> = {};
</script>

<script lang="ts">
  import { untrack } from 'svelte';
  import { answer, api, words, type Schemas } from '../../api/client';
  import { refresh } from '../../api/session.svelte';
  import { picks, placeKey, sure } from '../../parts/find/places';
  import PlaceList from '../../parts/find/PlaceList.svelte';

  /** Where else on the site the old words of a change stand: change them too, or leave them with a reason. */
  let {
    number,
    change,
    page,
    site,
    onchanged,
  }: { number: number; change: Schemas['Change']; page: number; site: number; onchanged: () => void } = $props();

  let v = $state<Schemas['Elsewhere'] | undefined>();
  let picked = $state<string[]>([]);
  let why = $state(untrack(() => reasons[change.id] ?? ''));
  let busy = $state(false);
  let problem = $state('');
  $effect(() => void (reasons[change.id] = why));
  const path = $derived({ params: { path: { number, change: change.id } } });

  const after = $derived(change.after_words);
  let last = 0; // an answer that a later question has overtaken says what is no longer so
  $effect(() => {
    void after;
    const timer = setTimeout(async () => {
      const own = ++last;
      try {
        const got = await answer(api.GET('/requests/{number}/changes/{change}/elsewhere', path));
        if (own !== last) return;
        v = got;
        picked = sure(v.places);
        problem = '';
      } catch (e) {
        problem = words(e);
      }
    }, 500);
    return () => clearTimeout(timer);
  });
  async function send(body: Schemas['ElsewhereForm']) {
    busy = true;
    last++;
    try {
      v = await answer(api.POST('/requests/{number}/changes/{change}/elsewhere', { ...path, body }));
      picked = [];
      problem = '';
      refresh();
      if (body.places.length) onchanged();
    } catch (e) {
      problem = words(e);
    }
    busy = false;
  }
  const places = $derived(v?.places ?? []);
  const open = $derived(places.filter((p) => !p.locked));

  // Other sites of the client are changed by requests of their own.
  let others = $state<Schemas['ElsewherePlace'][] | undefined>();
  async function lookOn() {
    try {
      const all = await answer(
        api.GET('/requests/{number}/changes/{change}/elsewhere', {
          params: { ...path.params, query: { client: true } },
        }),
      );
      others = all.places.filter((p) => p.site_id !== site);
    } catch (e) {
      problem = words(e);
    }
  }
</script>

{#if problem}<p class="said small" role="alert">{problem}</p>{/if}
{#if v && places.length}
  <section class="same" aria-label="The same words elsewhere">
    <h3>“{v.old}” stands in {places.length} more {places.length === 1 ? 'place' : 'places'}</h3>
    {#if v.left_why}
      <p class="small soft">Left on purpose: {v.left_why}</p>
    {:else}
      {#if !places.some((p) => p.sure)}
        <p class="small soft">None of them surely means the same. Look at each, and tick it where it does.</p>
      {/if}
      <PlaceList {places} bind:picked {busy} {page} {number} />
      <p class="acts">
        <button
          class="btn slim"
          disabled={!picked.length || busy}
          onclick={() => send({ places: picks(places, picked) })}
          >Change {picked.length === places.length ? 'all' : picked.length} to “{v.new}”</button
        >
        {#if picked.length < open.length}
          <button
            class="btn slim quiet"
            disabled={busy}
            onclick={() => send({ places: picks(places, open.map(placeKey)) })}
            >{open.length === 1 ? 'Change it' : `Change all ${open.length}`}</button
          >
        {/if}
      </p>
      <form
        class="acts"
        onsubmit={(e) => {
          e.preventDefault();
          send({ places: [], leave_why: why });
        }}
      >
        <input class="box" bind:value={why} aria-label="Why they stay" placeholder="or why they stay" />
        <button class="btn slim quiet" disabled={!why.trim() || busy}>Leave</button>
      </form>
    {/if}
  </section>
{/if}

{#if v?.old}
  <p class="small on">
    {#if !others}<button class="link" onclick={lookOn}>Look on the client’s other sites too</button>
    {:else if others.length}On other sites of the client:{:else}<span class="soft"
        >“{v.old}” stands on no other site of the client.</span
      >{/if}
  </p>
  {#each others ?? [] as p (`${p.page_id} ${p.part}`)}
    <p class="small">
      <a href="/requests/new?site={p.site_id}&page={p.page_id}&part={p.part}">{p.site_name} {p.address}</a>
      {p.part_name}
    </p>
  {/each}
{/if}

<style>
  .same {
    border-top: 1px dashed var(--hem-strong);
    padding-top: var(--step-2);
    display: grid;
    grid-template-columns: minmax(0, 1fr);
    gap: var(--step-1h);
  }
  .link {
    text-decoration: underline;
    cursor: pointer;
  }
  h3 {
    font-size: var(--size-m);
  }
  .same :global(ul) {
    max-height: 190px; /* two places, and the beginning of a third */
  }
  .acts {
    display: flex;
    gap: var(--step-1h);
  }
  .box {
    flex: 1;
    min-width: 0;
  }
</style>
