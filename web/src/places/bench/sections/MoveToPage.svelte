<script lang="ts">
  import { answer, api, type Schemas } from '../../../api/client';
  import Segments from '../../../look/Segments.svelte';
  import { complain } from '../../../look/toast';
  import { go } from '../../../router';
  import PagePick from '../../../parts/find/PagePick.svelte';
  import type { BenchPage } from '../desk.svelte';

  /** Moves a section to another page of the site: which page, and where on it. */
  let {
    bench,
    desk,
    request,
    part,
    wish,
    onleave,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    request: Schemas['Request'];
    part: Schemas['Part'];
    wish?: number;
    onleave: () => void;
  } = $props();

  let to = $state.raw<Schemas['Bench']>();
  let anchor = $state('');
  let where = $state<'before' | 'after'>('after');
  let busy = $state(false);
  /** What a section can stand beside there, each once. */
  const beside = $derived(
    (to?.parts ?? []).filter((p) => p.around === p.id && ['section', 'set', 'heading'].includes(p.kind)),
  );

  async function pick(page: number) {
    busy = true;
    try {
      to = await answer(
        api.GET('/requests/{number}/bench/{page}', { params: { path: { number: request.row.number, page } } }),
      );
      anchor = beside.at(-1)?.id ?? '';
    } catch (e) {
      complain(e);
    } finally {
      busy = false;
    }
  }
  async function move() {
    if (!to) return;
    busy = true;
    try {
      await desk.flush();
      const moved = await answer(
        api.POST('/requests/{number}/pages/{page}/move-out', {
          params: { path: { number: request.row.number, page: bench.page.id } },
          body: {
            draft: desk.bench!.draft,
            part: part.id,
            page: to.page.id,
            to_draft: to.draft,
            anchor,
            where,
            wish_id: wish,
          },
        }),
      );
      go(`/requests/${request.row.number}/bench/${moved.page}?part=${moved.part}`);
    } catch (e) {
      complain(e);
      busy = false;
    }
  }
</script>

<section aria-label="To another page">
  <p class="small soft">It is taken out here and stands there, as two changes. Nothing reaches the site.</p>
  <div class="field">
    <span>The page</span>
    <PagePick site={request.row.site_id} current={to?.page ?? bench.page} onpick={pick} />
  </div>
  {#if to && to.page.id === bench.page.id}
    <p class="said look small">That is the page that it stands on.</p>
  {:else if to && !beside.length}
    <p class="said look small">Nothing on that page is a place that a section could stand beside.</p>
  {:else if to}
    <label class="field">
      <span>The place</span>
      <select class="box" bind:value={anchor}>
        {#each beside as p (p.id)}<option value={p.id}>{p.name.replace(/[“”]/g, '')}</option>{/each}
      </select>
    </label>
    <Segments
      label="Before or after"
      choices={[
        { value: 'before', label: 'before it' },
        { value: 'after', label: 'after it' },
      ]}
      bind:value={where}
    />
  {/if}
  <p class="acts">
    <button class="btn slim quiet" onclick={onleave}>Leave it</button>
    <button class="btn slim go" disabled={busy || !to || !anchor || to.page.id === bench.page.id} onclick={move}
      >Move it there</button
    >
  </p>
</section>

<style>
  section {
    display: grid;
    gap: var(--step-2);
    justify-items: start;
    border: 1px dashed var(--hem-strong);
    border-radius: var(--radius);
    padding: var(--step-2);
  }
  .field {
    width: 100%;
  }
  .acts {
    display: flex;
    gap: var(--step-2);
    justify-self: end;
  }
</style>
