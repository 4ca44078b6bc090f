<script lang="ts">
  import { untrack } from 'svelte';
  import { Asked } from '../../api/asked.svelte';
  import { answer, api } from '../../api/client';
  import { onKeys, press, wordsHere } from '../../look/keys.svelte';
  import Loaded from '../../parts/Loaded.svelte';
  import { go, route } from '../../router';
  import Beside from './Beside.svelte';
  import { BenchPage } from './desk.svelte';
  import Elsewhere from './Elsewhere.svelte';
  import type Frame from './Frame.svelte';
  import type { Mark, Places } from './frame';
  import Margin from './Margin.svelte';
  import Panes from './Panes.svelte';
  import Pictures from './picture/Pictures.svelte';
  import Sections from './sections/Sections.svelte';
  import ByHand from './markup/ByHand.svelte';
  import Versions from './versions/Versions.svelte';
  import { openersOf } from './sets/inside';
  import { Taken } from './taken.svelte';
  import Thread from './Thread.svelte';
  import { threadActs } from './threadActs';
  import Tools from './Tools.svelte';
  import { inPixels, next, type Width } from './widths';
  import WishLine from './WishLine.svelte';

  const number = $derived(Number(route.params.number));
  const pageID = $derived(Number(route.params.page));
  const asked = new Asked(() => answer(api.GET('/requests/{number}', { params: { path: { number } } })));
  const request = $derived(asked.got);
  let desk = $state.raw<BenchPage | undefined>();
  let view = $state<'live' | 'draft' | 'both'>('draft');
  let through = $state(false); // L is held
  let width = $state<Width>('room');
  let places = $state<Places>({ at: {}, height: 0, scroll: 0 });
  let scale = $state(1);
  let draftFrame = $state<Frame>();

  $effect(() => {
    const [n, p] = [number, pageID];
    untrack(() => {
      const search = new URLSearchParams(location.search);
      taken.wish = Number(search.get('wish')) || undefined;
      const d = new BenchPage(
        n,
        p,
        draw,
        (id, html) => draftFrame?.send({ do: 'words', id, html }),
        (to) => taken.rename(to),
        (hand, blocks) => draftFrame?.send({ do: 'run', hand, blocks }),
      );
      desk = d;
      d.open();
      // The fields for words are on this machine before somebody types.
      void Promise.all([import('./RunOf.svelte'), import('../../parts/words/WordsEditor.svelte')]).catch(() => {});
      asked.again();
    });
    return () => {
      desk?.close();
    };
  });
  const taken = new Taken(
    () => desk,
    () => request,
    () => pageID,
    (id) => draftFrame?.send({ do: 'show', id }),
    () => {
      void [route.pathname, route.search.part];
      return new URLSearchParams(location.search).get('part') ?? undefined;
    },
  );
  function choose(id: string | undefined, awaited?: boolean) {
    draftFrame?.forget();
    taken.choose(id, awaited);
  }
  const bench = $derived(desk?.bench);
  const current = $derived(bench?.parts.find((p) => p.id === taken.now));
  const changed = $derived(bench?.parts.filter((p) => p.change_id) ?? []);
  const lookOf = (p: { locked: string }) => (p.locked ? ('locked' as const) : ('now' as const));
  const marks = $derived<Mark[]>([
    ...changed.map((p) => ({ id: p.id, look: 'kept' as const })),
    ...(desk?.company.here ?? [])
      .filter((g) => g.part && g.part !== current?.id)
      .map((g) => ({ id: g.part, look: 'theirs' as const })),
    ...(current ? [{ id: current.id, look: lookOf(current), open: openersOf(bench?.parts ?? [], current.id) }] : []),
  ]);
  const seesLive = $derived(view === 'live' || (view === 'draft' && through));
  const asLive = $derived(
    seesLive || !bench?.changes.some((c) => (c.state === 'kept' || c.state === 'going') && c.page_id === pageID),
  );
  $effect(() => desk?.company.sit(taken.now));
  let lastKept = 0;
  $effect(() => {
    if (bench && bench.kept !== lastKept) {
      lastKept = bench.kept;
      untrack(() => asked.again());
    }
  });

  let redraw: ReturnType<typeof setTimeout> | undefined;
  let drawn = ''; // the draft that the page in the frame was loaded with last
  function draw() {
    drawn = desk?.bench?.draft ?? '';
    draftFrame?.reload();
  }
  /** What is typed cannot be shown by the page itself: it is loaded again when it is kept. */
  function stale() {
    clearTimeout(redraw);
    redraw = setTimeout(() => desk?.flush().then(() => desk?.bench?.draft !== drawn && draw()), 500);
  }
  const thread = threadActs(
    () => desk,
    () => pageID,
    choose,
  );
  async function proof() {
    await desk?.flush();
    go(`/requests/${number}/proof`);
  }
  // What a page's frame may do with a key: a script in it could press any. It looks and points, nothing more.
  const looks = {
    l: (down: boolean) => (through = down),
    w: (down: boolean) => void (down && (width = next(width))),
    p: (down: boolean) => void (down && (taken.listing = !taken.listing)),
    Escape: (down: boolean) => void (down && choose(undefined)),
  };
  const acts = {
    ...looks,
    u: (down: boolean) => void (down && thread.undoLast()),
    m: (down: boolean) => void (down && proof()),
  };
  $effect(wordsHere);
  onKeys(() => (desk?.chooses || desk?.byHand ? {} : acts)); // where something is chosen in the place of the page, letters mean other things
</script>

<svelte:head><title>Bench {bench?.page.address ?? ''} · Mendry</title></svelte:head>
<svelte:window
  onpagehide={() => desk?.flush()}
  onbeforeunload={(e) => {
    if (desk?.state === 'unsent' && !desk.lasts) e.preventDefault(); // the browser asks before the words are gone
  }}
/>
<Loaded of={asked} />
{#if desk?.problem && !bench}<div class="page"><p class="said" role="alert">{desk.problem}</p></div>{/if}
{#snippet company()}
  <Beside here={desk!.company.here} parts={bench!.parts} onshow={(id) => draftFrame?.send({ do: 'show', id })} />
{/snippet}
{#if bench && request && desk}
  <div class="bench">
    <h1 class="unseen">Bench: {bench.page.address}</h1>
    <WishLine
      {request}
      beside={company}
      current={taken.wish}
      onwish={(w) => {
        taken.wish = w.id;
        if (w.page_id === pageID && w.part) choose(w.part);
        else if (w.page_id && w.page_id !== pageID)
          go(`/requests/${number}/bench/${w.page_id}?wish=${w.id}${w.part ? `&part=${w.part}` : ''}`);
      }}
    />
    <div class="work" class:behind={desk.chooses}>
      <section class="stage" aria-label="The page">
        <Tools
          page={bench.page}
          onpick={(page) => go(`/requests/${number}/bench/${page}`)}
          parts={bench.parts.length}
          {asLive}
          {seesLive}
          bind:view
          bind:listing={taken.listing}
          bind:width
        />
        <Elsewhere page={bench.page} conflict={bench.conflict} ontaken={() => desk?.load().then(draw)} />
        <Panes
          {bench}
          {desk}
          {current}
          wish={taken.wish}
          {view}
          {through}
          {seesLive}
          width={inPixels(width)}
          {marks}
          bind:scale
          bind:draftFrame
          onpoint={(to, renewed) => taken.point(to, renewed)}
          onwaits={(draft) => desk?.pointed(draft)}
          onstale={stale}
          onfresh={(first) => {
            desk?.show();
            if (first) taken.bring();
          }}
          onplaces={(p) => (places = { ...places, ...p })}
          onkey={(k, d, r) => press(looks, k, d, r)}
          onchoose={choose}
        />
      </section>
      <Margin
        {bench}
        {desk}
        {request}
        {current}
        {places}
        {scale}
        listing={taken.listing}
        hold={taken.hold}
        wish={taken.wish}
        onchoose={choose}
      />
    </div>
    <Pictures {bench} {desk} {request} {current} wish={taken.wish} onchoose={choose} />
    <Sections {bench} {desk} {request} wish={taken.wish} onchoose={choose} />
    {#if desk.byHand}
      {#key desk.byHand}
        <ByHand {bench} {desk} number={request.row.number} part={desk.byHand} wish={taken.wish} onchoose={choose} />
      {/key}
    {/if}
    {#if desk.looksBack}<Versions {bench} {desk} number={request.row.number} wish={taken.wish} onchoose={choose} />{/if}
    <div class="thread" class:behind={desk.chooses}>
      <Thread
        number={request.row.number}
        notes={request.notes}
        changes={bench.changes}
        current={current?.change_id}
        page={pageID}
        busy={desk.follows}
        onopen={(c) => choose(c.part || undefined)}
        onpage={(page) => go(`/requests/${number}/bench/${page}`)}
        onundo={(c) => thread.undo(c.id)}
        onback={thread.takeBack}
        onlast={thread.undoLast}
        onproof={proof}
      />
    </div>
  </div>
{/if}

<style>
  .bench {
    position: relative;
    isolation: isolate;
    display: grid;
    grid-template-rows: auto minmax(0, 1fr) 96px;
    height: calc(100vh - 52px);
    min-height: 560px;
  }
  .work {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 396px;
    min-height: 0;
  }
  .work,
  .thread {
    grid-column: 1;
  }
  .work {
    grid-row: 2;
  }
  .thread {
    grid-row: 3;
    display: grid;
  }
  .behind,
  .behind :global(*) {
    visibility: hidden !important; /* also of what shows itself in what is hidden */
    transition: none !important; /* a button's would show it for a moment more */
  }
  .stage {
    padding: var(--step-2h) 0 var(--step-2h) var(--step-5);
    display: grid;
    grid-template-rows: auto auto minmax(0, 1fr);
    min-height: 0;
    min-width: 0;
  }
</style>
