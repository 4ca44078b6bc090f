<script lang="ts">
  import { untrack } from 'svelte';
  import type { Schemas } from '../../../api/client';
  import { onKeys } from '../../../look/keys.svelte';
  import { complain } from '../../../look/toast';
  import type { BenchPage } from '../desk.svelte';
  import AsItWillStand from './AsItWillStand.svelte';
  import Cut from './Cut.svelte';
  import PictureCard from './PictureCard.svelte';
  import { isMarkdown, putOf, type Where, whereSays } from './lay';
  import { Picking, small, type From } from './picking.svelte';
  import type { Place } from './places';
  import Sources from './Sources.svelte';
  import Straighten from './Straighten.svelte';

  /** A picture is chosen for its place and worked on, in the place of the page. */
  let {
    bench,
    desk,
    request,
    part,
    from,
    put,
    where,
    places,
    wish,
    onclose,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    request: Schemas['Request'];
    part: Schemas['Part'];
    from?: From;
    put?: 'new' | 'again';
    where?: Where;
    places?: Place[];
    wish?: number;
    onclose: (made?: string) => void;
  } = $props();

  const made = untrack(() =>
    put === 'new' ? undefined : put ? putOf(bench, part) : bench.changes.find((c) => c.id === part.change_id)?.made,
  );
  const markdown = $derived(isMarkdown(bench));
  const picking = new Picking(
    untrack(() => request.row.number),
    untrack(() => bench.page.id),
    untrack(() => part),
    () => places,
    made,
    untrack(() => from),
    untrack(() => put),
    untrack(() => where),
  );
  let img = $state<HTMLImageElement | undefined>();
  let taking = $state(false);
  $effect(() => {
    void [places]; // its place was measured meanwhile
    untrack(() => void picking.ask());
  });
  $effect(() => () => picking.close());

  const shown = $derived(picking.empty ? '' : small(picking.number, picking.from, 1600));
  async function take() {
    taking = true;
    try {
      const taken = await desk.make(picking.act, wish);
      if (desk.problem && desk.unsent.aside.length) return;
      onclose(taken);
    } catch (e) {
      complain(e);
    } finally {
      taking = false;
    }
  }
  onKeys(() => ({
    '[': (down) => down && picking.quarter(-1),
    ']': (down) => down && picking.quarter(1),
    x: (down) => down && picking.mirror(),
    Escape: (down) => down && onclose(),
  }));
</script>

<section class="work" aria-label="A picture for {part.name}">
  <div class="stage">
    <header>
      <span class="mono"><b>{bench.page.address}</b></span>
      <h2>
        {picking.told?.name ?? 'A picture'}, {put === 'new' ? whereSays[picking.where] : 'for'}
        {part.name}
      </h2>
      <span class="soft small">the original stays as it came</span>
    </header>
    <div class="table">
      {#key shown}
        {#if shown}
          <img
            class="unseen"
            src={shown}
            alt=""
            onload={(e) => (img = e.currentTarget as HTMLImageElement)}
            {@attach () => () => (img = undefined)}
          />
        {/if}
      {/key}
      {#if img && picking.told}
        <Cut {picking} {img} />
        <Straighten {picking} />
      {:else if picking.empty}
        <p class="soft">Choose a picture at the right, drop one there, or paste it.</p>
      {:else if picking.problem && !picking.told}
        <p class="said stop" role="alert">{picking.problem}</p>
      {:else}
        <p class="soft" role="status">The picture is made ready…</p>
      {/if}
    </div>
  </div>
  <div class="side">
    {#if picking.empty}<Sources {picking} {desk} {request} />{/if}
    <PictureCard {picking} {markdown} />
    {#if !picking.empty}<Sources {picking} {desk} {request} />{/if}
  </div>
  <AsItWillStand {picking} {img} busy={taking} ontake={take} onleave={onclose} />
</section>

<style>
  .work {
    grid-area: 2 / 1 / 4 / 2;
    min-height: 0;
    background: var(--linen);
    display: grid;
    grid-template-columns: minmax(0, 1fr) 396px;
    grid-template-rows: minmax(0, 1fr) auto;
  }
  .stage {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    gap: var(--step-2h);
    padding: var(--step-3) 0 var(--step-3) var(--step-5);
    min-width: 0;
  }
  header {
    display: flex;
    gap: var(--step-3);
    align-items: baseline;
  }
  h2 {
    flex: 1;
    font-size: var(--size-l);
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .table {
    display: grid;
    grid-template-rows: minmax(0, 1fr) auto;
    gap: var(--step-2h);
    padding: var(--step-4);
    min-height: 0;
    border: 1px solid var(--hem-strong);
    background: color-mix(in srgb, var(--hem) 50%, var(--linen));
  }
  .side {
    overflow-y: auto;
    padding: var(--step-3) var(--step-5) var(--step-3) var(--step-6);
    display: grid;
    align-content: start;
    gap: var(--step-2h);
  }
</style>
