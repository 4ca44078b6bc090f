<script lang="ts">
  import { untrack } from 'svelte';
  import { Asked } from '../../api/asked.svelte';
  import { answer, api } from '../../api/client';
  import { onKeys, press } from '../../look/keys.svelte';
  import Loaded from '../../parts/Loaded.svelte';
  import { go, route } from '../../router';
  import { BenchPage } from './desk.svelte';
  import Elsewhere from './Elsewhere.svelte';
  import type Frame from './Frame.svelte';
  import type { Mark, Places, Pointed } from './frame';
  import Margin from './Margin.svelte';
  import Panes from './Panes.svelte';
  import Pictures from './picture/Pictures.svelte';
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
  let listing = $state(false);
  let part = $state<string | undefined>();
  let wish = $state<number | undefined>();
  let places = $state<Places>({ at: {}, height: 0, scroll: 0 });
  let scale = $state(1);
  let draftFrame = $state<Frame>();

  $effect(() => {
    const [n, p] = [number, pageID];
    untrack(() => {
      const search = new URLSearchParams(location.search);
      wish = Number(search.get('wish')) || undefined;
      const d = new BenchPage(
        n,
        p,
        draw,
        (id, html) => draftFrame?.send({ do: 'words', id, html }),
        (to) => ([part, brought] = [part, brought].map((id) => id && (to(id) ?? id))),
        (blocks) => draftFrame?.send({ do: 'run', blocks }),
      );
      desk = d;
      d.open();
      asked.again();
    });
    return () => {
      desk?.close();
    };
  });
  $effect(() => {
    void [route.pathname, route.search.part];
    part = new URLSearchParams(location.search).get('part') ?? undefined;
    untrack(take);
  });
  const bench = $derived(desk?.bench);
  // In a run the part in hand is the one that the cursor is in.
  const inHand = $derived(desk?.hand ? desk.hand.part : part);
  const current = $derived(bench?.parts.find((p) => p.id === inHand));
  const changed = $derived(bench?.parts.filter((p) => p.change_id) ?? []);
  const marks = $derived<Mark[]>([
    ...changed.map((p) => ({ id: p.id, look: 'kept' as const })),
    ...(current ? [{ id: current.id, look: current.locked ? ('locked' as const) : ('now' as const) }] : []),
  ]);
  const seesLive = $derived(view === 'live' || (view === 'draft' && through));
  const asLive = $derived(
    seesLive || !bench?.changes.some((c) => (c.state === 'kept' || c.state === 'going') && c.page_id === pageID),
  );
  // Brings into view what somebody takes in hand: not when it only gets another name, nor when the page is loaded again.
  let brought: string | undefined;
  $effect(() => {
    if (inHand !== brought) bring(inHand);
  });
  function bring(id: string | undefined) {
    brought = id;
    if (id) untrack(() => draftFrame?.send({ do: 'show', id }));
  }
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
  function choose(id: string | undefined) {
    if (desk) [desk.taken, desk.renewed] = [desk.taken + 1, false];
    desk?.flush();
    part = id;
    take();
    listing = false;
    // What is changed where a wish was placed is done for that wish.
    const own = request?.wishes.find(
      (w) => id && w.page_id === pageID && w.part === id && ['open', 'done'].includes(w.state),
    );
    if (own) wish = own.id;
  }
  /** Takes the part that was chosen in hand, with the run that it is in. */
  function take() {
    if (!desk?.bench) return;
    desk.take(part);
    const key = part && desk.hand?.keyOf(part);
    if (!key) return;
    desk.hand!.at = key;
    if (!desk.renewed) desk.hand!.goTo = { key, at: desk.takeCursor() };
    desk.renewed = false;
  }
  $effect(() => {
    if (desk?.bench && part && !desk.hand && !desk.follows) untrack(take); // the page has come, or its parts have other names
  });
  $effect(() => {
    if (desk?.hand?.part) part = desk.hand.part;
  });
  /** Takes what was pointed at in hand. Of a page that is being renewed only what is known by its key can be, since the
   * parts may have other names by now; then it reports false. */
  function onpoint({ id, key, at, under }: Pointed, renewed: boolean): boolean {
    if (!desk) return true;
    desk.under = under;
    if (key && desk.hand?.now.some((b) => b.key === key)) {
      [desk.hand.at, desk.hand.goTo] = [key, { key, at }];
      listing = false;
      return true;
    }
    if (renewed) return false;
    desk.cursor = at;
    if (id) choose(id);
    return true;
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
    p: (down: boolean) => void (down && (listing = !listing)),
    Escape: (down: boolean) => void (down && choose(undefined)),
  };
  const acts = {
    ...looks,
    u: (down: boolean) => void (down && thread.undoLast()),
    m: (down: boolean) => void (down && proof()),
  };
  onKeys(() => (desk?.picking ? {} : acts)); // on the table on which a picture is chosen, letters mean other things
</script>

<svelte:head><title>Bench {bench?.page.address ?? ''} · Mendry</title></svelte:head>
<svelte:window onpagehide={() => desk?.flush()} />
<Loaded of={asked} />
{#if desk?.problem && !bench}<div class="page"><p class="said" role="alert">{desk.problem}</p></div>{/if}
{#if bench && request && desk}
  <div class="bench">
    <h1 class="unseen">Bench: {bench.page.address}</h1>
    <WishLine
      {request}
      current={wish}
      onwish={(w) => {
        wish = w.id;
        if (w.page_id === pageID && w.part) choose(w.part);
        else if (w.page_id && w.page_id !== pageID)
          go(`/requests/${number}/bench/${w.page_id}?wish=${w.id}${w.part ? `&part=${w.part}` : ''}`);
      }}
    />
    <div class="work" class:behind={desk.picking}>
      <section class="stage" aria-label="The page">
        <Tools
          page={bench.page}
          onpick={(page) => go(`/requests/${number}/bench/${page}`)}
          parts={bench.parts.length}
          {asLive}
          {seesLive}
          bind:view
          bind:listing
          bind:width
        />
        <Elsewhere page={bench.page} conflict={bench.conflict} ontaken={() => desk?.load().then(draw)} />
        <Panes
          {bench}
          {desk}
          {current}
          {wish}
          {view}
          {through}
          {seesLive}
          width={inPixels(width)}
          {marks}
          bind:scale
          bind:draftFrame
          {onpoint}
          onstale={stale}
          onfresh={(first) => {
            desk?.show();
            if (first) bring(inHand);
          }}
          onplaces={(p) => (places = { ...places, ...p })}
          onkey={(k, d, r) => press(looks, k, d, r)}
          onchoose={choose}
        />
      </section>
      <Margin {bench} {desk} {request} {current} {places} {scale} {listing} {wish} onchoose={choose} />
    </div>
    <Pictures {bench} {desk} {request} {current} {wish} onchoose={choose} />
    <div class="thread" class:behind={desk.picking}>
      <Thread
        number={request.row.number}
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
  }
  .stage {
    padding: var(--step-2h) 0 var(--step-2h) var(--step-5);
    display: grid;
    grid-template-rows: auto auto minmax(0, 1fr);
    min-height: 0;
    min-width: 0;
  }
</style>
