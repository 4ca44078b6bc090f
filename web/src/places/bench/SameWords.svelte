<script lang="ts">
  import { answer, api, words, type Schemas } from '../../api/client';
  import { refresh } from '../../api/session.svelte';

  /** Where else on the site the old words of a change stand: change them too, or leave them with a reason. */
  let {
    number,
    change,
    page,
    onchanged,
  }: { number: number; change: Schemas['Change']; page: number; onchanged: () => void } = $props();

  let v = $state<Schemas['Elsewhere'] | undefined>();
  let picked = $state<string[]>([]);
  let why = $state('');
  let busy = $state(false);
  let problem = $state('');
  const key = (p: Schemas['ElsewherePlace']) => `${p.page_id} ${p.part}`;
  const path = $derived({ params: { path: { number, change: change.id } } });

  $effect(() => {
    void change.after_words;
    const timer = setTimeout(async () => {
      try {
        v = await answer(api.GET('/requests/{number}/changes/{change}/elsewhere', path));
        picked = v.places.filter((p) => !p.locked).map(key);
        problem = '';
      } catch (e) {
        problem = words(e);
      }
    }, 500);
    return () => clearTimeout(timer);
  });
  async function send(body: Schemas['ElsewhereForm']) {
    busy = true;
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
</script>

{#if problem}<p class="said small" role="alert">{problem}</p>{/if}
{#if v && places.length}
  <section class="same" aria-label="The same words elsewhere">
    <h3>“{v.old}” stands in {places.length} more {places.length === 1 ? 'place' : 'places'}</h3>
    {#if v.left_why}
      <p class="small soft">Left on purpose: {v.left_why}</p>
    {:else}
      <ul>
        {#each places as p (key(p))}
          <li>
            <label>
              <input type="checkbox" bind:group={picked} value={key(p)} disabled={!!p.locked || busy} />
              <span>
                <span class="mono">{p.page_id === page ? 'this page' : p.address}</span>
                <span class="soft small">{p.part_name}</span><br />
                <!-- prettier-ignore -->
                <span class="small">{#each p.around as r, i (i)}{#if r.is === 'gone'}<mark>{r.text}</mark>{:else}{r.text}{/if}{/each}</span>
              </span>
            </label>
          </li>
        {/each}
      </ul>
      <p class="acts">
        <button
          class="btn slim"
          disabled={!picked.length || busy}
          onclick={() =>
            send({
              places: places.filter((p) => picked.includes(key(p))).map((p) => ({ page_id: p.page_id, part: p.part })),
            })}>Change {picked.length === places.length ? 'all' : picked.length} to “{v.new}”</button
        >
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

<style>
  .same {
    border-top: 1px dashed var(--hem-strong);
    padding-top: 8px;
    display: grid;
    gap: 6px;
  }
  h3 {
    font-size: 14px;
  }
  ul {
    max-height: 150px;
    overflow: auto;
  }
  label {
    display: flex;
    gap: 8px;
    padding: 3px 0;
    align-items: baseline;
    cursor: pointer;
  }
  mark {
    background: var(--weld-wash);
    color: inherit;
    font-weight: 600;
  }
  .acts {
    display: flex;
    gap: 6px;
  }
  .box {
    flex: 1;
    min-width: 0;
  }
</style>
