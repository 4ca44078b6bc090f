<script lang="ts">
  import { untrack } from 'svelte';
  import { Asked } from '../../api/asked.svelte';
  import { answer, api, words, type Schemas } from '../../api/client';
  import Runs from '../../parts/Runs.svelte';

  /** What the letter seems to ask for and is no wish yet: taken over as it is, with its place, or left. */
  let { request, onchange }: { request: Schemas['Request']; onchange: (r: Schemas['Request'], wish?: number) => void } =
    $props();

  const number = $derived(request.row.number);
  const asked = new Asked(() => answer(api.GET('/requests/{number}/proposals', { params: { path: { number } } })));
  let left = $state<number[]>([]); // by where they begin
  let busy = $state(false);
  let problem = $state('');
  const wished = (p: Schemas['Proposal']) => request.wishes.some((w) => w.start < p.end && w.end > p.start);
  const shown = $derived((asked.got ?? []).filter((p) => !left.includes(p.start) && !wished(p)));

  $effect(() => {
    void request.wishes.length;
    untrack(() => void asked.again());
  });
  async function take(p: Schemas['Proposal'], place?: Schemas['Found']) {
    const before = new Set(request.wishes.map((w) => w.id));
    let r = await answer(
      api.POST('/requests/{number}/wishes', { params: { path: { number } }, body: { start: p.start, end: p.end } }),
    );
    const wish = r.wishes.find((w) => !before.has(w.id))!;
    if (place)
      r = await answer(
        api.POST('/requests/{number}/wishes/{wish}', {
          params: { path: { number, wish: wish.id } },
          body: { page_id: place.page_id, part: place.part },
        }),
      );
    onchange(r, wish.id);
  }
  async function act(f: () => Promise<void>) {
    busy = true;
    problem = '';
    try {
      await f();
    } catch (e) {
      problem = words(e);
    }
    busy = false;
  }
</script>

{#if problem || asked.problem}<p class="said small" role="alert">{problem || asked.problem}</p>{/if}
{#if shown.length}
  <section class="sheet" aria-label="What the letter seems to ask for">
    <header>
      <h2>The letter seems to ask for {shown.length === 1 ? 'one thing' : `${shown.length} things`}</h2>
      {#if shown.length > 1}
        <button
          class="btn slim"
          disabled={busy || asked.waits}
          onclick={() =>
            act(async () => {
              for (const p of [...shown]) await take(p, p.places.length === 1 ? p.places[0] : undefined);
            })}>{asked.waits ? 'Looking for their places…' : 'Mark them all'}</button
        >
      {/if}
    </header>
    <ul>
      {#each shown as p (p.start)}
        <li>
          <p class="asked">“{p.words}”</p>
          {#each p.places as f, i (i)}
            <button class="place" disabled={busy} onclick={() => act(() => take(p, f))}>
              <span><span class="mono">{f.address}</span> <span class="soft small">{f.part_name}</span></span>
              <span class="small"
                ><Runs runs={f.around.map((r) => ({ ...r, is: r.is === 'new' ? 'new' : 'same' }))} /></span
              >
            </button>
          {/each}
          <p class="acts">
            <button class="btn slim" disabled={busy} onclick={() => act(() => take(p))}>Mark without a place</button>
            <button class="btn slim quiet" onclick={() => (left = [...left, p.start])}>Not a wish</button>
          </p>
        </li>
      {/each}
    </ul>
  </section>
{/if}

<style>
  section {
    padding: var(--step-3) var(--step-3h);
    margin-bottom: var(--step-4);
    border-style: dashed;
  }
  header {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    gap: var(--step-2h);
    margin-bottom: var(--step);
  }
  h2 {
    font-size: var(--size-l);
  }
  li {
    padding: var(--step-2) 0;
  }
  li + li {
    border-top: 1px solid var(--hem);
  }
  .asked {
    font-weight: 600;
    margin-bottom: var(--step);
  }
  .place {
    display: grid;
    gap: 1px;
    width: 100%;
    text-align: left;
    padding: var(--step-1h) var(--step-2);
    border: 1px solid var(--hem);
    border-radius: var(--radius);
    margin-bottom: var(--step);
    cursor: pointer;
  }
  .place:hover,
  .place:focus-visible {
    background: var(--indigo-wash);
  }
  .acts {
    display: flex;
    gap: var(--step-1h);
  }
</style>
