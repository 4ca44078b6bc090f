<script lang="ts">
  import { untrack } from 'svelte';
  import { answer, api, words, type Schemas } from '../../api/client';
  import { refresh } from '../../api/session.svelte';
  import Fold from '../../look/Fold.svelte';
  import { picks, sure } from '../../parts/find/places';
  import PlaceList from '../../parts/find/PlaceList.svelte';

  /** Finds words all over a site and replaces them in the places that are chosen; each becomes its own change. */
  let {
    number,
    siteName,
    wish,
    onchanged,
  }: { number: number; siteName: string; wish?: number; onchanged: () => void } = $props();

  let old = $state('');
  let now = $state('');
  let v = $state<Schemas['Elsewhere'] | undefined>();
  let picked = $state<string[]>([]);
  let busy = $state(false);
  let problem = $state('');
  let done = $state('');

  function forget() {
    [old, now, v, picked, problem] = ['', '', undefined, [], ''];
  }
  $effect(() => {
    void number; // another request's words are none of this one's
    untrack(() => {
      forget();
      done = '';
    });
  });
  async function run(ask: () => Promise<Schemas['Elsewhere']>) {
    busy = true;
    try {
      v = await ask();
      picked = sure(v.places);
      problem = '';
    } catch (e) {
      problem = words(e);
    }
    busy = false;
  }
  const path = $derived({ path: { number } });
  const find = () => {
    done = '';
    return run(() => answer(api.GET('/requests/{number}/everywhere', { params: { ...path, query: { words: old } } })));
  };
  async function replace() {
    const places = picks(v!.places, picked);
    await run(() =>
      answer(
        api.POST('/requests/{number}/everywhere', {
          params: path,
          body: { old, new: now, places, wish_id: wish },
        }),
      ),
    );
    if (problem) return;
    done = `Changed in ${places.length} ${places.length === 1 ? 'place' : 'places'}: kept, not live.`;
    refresh();
    onchanged();
    forget();
  }
</script>

<section class="sheet all" aria-label="The same words on many pages">
  <Fold look="all-head">
    {#snippet head()}
      <b>The same words on many pages</b>
      <span class="soft small">find and replace over {siteName}</span>
    {/snippet}
    <form
      onsubmit={(e) => {
        e.preventDefault();
        find();
      }}
    >
      <label class="field"
        ><span>Words that stand there</span><input
          class="box"
          bind:value={old}
          required
          maxlength="200"
          oninput={() => (v = undefined)}
        /></label
      >
      <label class="field"
        ><span>Become</span><input
          class="box"
          bind:value={now}
          maxlength="2000"
          placeholder="nothing: taken out"
        /></label
      >
      <button class="btn" disabled={busy || !old.trim()}>Find them</button>
    </form>
    {#if problem}<p class="said small" role="alert">{problem}</p>{/if}
    {#if done}<p class="said fine small" role="status">{done}</p>{/if}
    {#if busy}<p class="small soft" role="status">Going through the site…</p>{/if}
    {#if v}
      {#if v.places.length}
        <PlaceList places={v.places} bind:picked {busy} {number} />
        <p>
          <button class="btn go" disabled={!picked.length || busy || now.trim() === old.trim()} onclick={replace}
            >Change {picked.length === v.places.length ? 'all' : ''} {picked.length} to “{now || 'nothing'}”</button
          >
        </p>
      {:else if !done}
        <p class="small soft">“{v.old}” stands nowhere on {siteName}.</p>
      {/if}
    {/if}
  </Fold>
</section>

<style>
  .all {
    padding: var(--step-2h) var(--step-3h);
    display: grid;
    gap: var(--step-2);
  }
  .all :global(.all-head) {
    display: flex;
    gap: var(--step-2h);
    align-items: baseline;
    text-align: left;
    cursor: pointer;
  }
  form {
    display: grid;
    grid-template-columns: 1fr 1fr auto;
    gap: var(--step-2);
    align-items: end;
  }
</style>
