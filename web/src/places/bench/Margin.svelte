<script lang="ts">
  import type { Schemas } from '../../api/client';
  import Seam from '../../parts/Seam.svelte';
  import Aside from './Aside.svelte';
  import type { BenchPage } from './desk.svelte';
  import FactsEditor from './FactsEditor.svelte';
  import type { Places } from './frame';
  import TwoWordings from './TwoWordings.svelte';
  import HiddenHere from './HiddenHere.svelte';
  import { notesOf } from './notes';
  import { laid, noteKeys } from './laid';
  import PartEditor from './PartEditor.svelte';
  import PartList from './PartList.svelte';

  /** The strip beside the page: what is kept stands at the height of its part; the part in hand has its editor here. */
  let {
    bench,
    desk,
    request,
    current,
    places,
    scale,
    listing,
    hold,
    wish,
    onchoose,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    request: Schemas['Request'];
    current?: Schemas['Part'];
    places: Places;
    scale: number;
    listing: boolean;
    /** Counted up when something else is taken in hand. */
    hold: number;
    wish?: number;
    onchoose: (id: string | undefined, awaited?: boolean) => void;
  } = $props();

  let room = $state(0);
  let tall = $state(0);
  let factsTall = $state(0);
  const shared = $derived(
    bench.parts.filter((p) => p.shared && !bench.parts.some((q) => q.shared && q.id === p.parent)),
  );
  const noted = $derived(bench.parts.filter((p) => p.id !== current?.id && (p.change_id || shared.includes(p))));
  const keys = $derived(noteKeys(noted));
  const small = $derived(
    noted
      .map((p, i) => ({ part: p, key: keys[i], want: ((places.at[p.id]?.[0] ?? -1e6) - places.scroll) * scale + 46 }))
      .filter((n) => n.want > 20 && n.want < room - 30 - (current ? 0 : factsTall)),
  );
  const lay = $derived(
    laid(
      small.map((n) => ({ id: n.part.id, want: n.want, tall: 40 })),
      current
        ? { id: current.id, want: ((places.at[current.id]?.[0] ?? 0) - places.scroll) * scale + 40, tall }
        : undefined,
      room - 30,
    ),
  );
  // The note in hand stands still under a pointer: what grows in it, or a page that moves, would take a button away from under
  // a press.
  let still = $state<number | undefined>();
  $effect(() => {
    void [hold, current === undefined];
    still = undefined;
  });
  const top = $derived(current && (still ?? lay[current.id]));
  const unsent = $derived(
    desk.lasts
      ? 'Your words are safe in this browser and are sent again by themselves.'
      : 'Leave this page open: this browser keeps nothing beyond it. Your words are sent again by themselves.',
  );
  const said = $derived(
    {
      kept: 'Kept as you type. Nothing reaches the site until you publish.',
      typing: 'Typing…',
      keeping: 'Keeping…',
      undecided: 'Kept, but for the words of which there are two wordings.',
      unsent: `Not kept yet: Mendry cannot be reached. ${unsent}`,
    }[desk.state],
  );
</script>

<section class="margin" aria-label="The margin" bind:clientHeight={room}>
  {#if desk.follows}
    <section class="follows said look small" aria-label="In hand in another tab">
      <p><b>Another tab has this page in hand and writes.</b> This one follows it.</p>
      <p><button class="btn slim" onclick={() => desk.writeHere()}>Write here instead</button></p>
    </section>
  {:else if listing}
    <PartList parts={bench.parts} {current} {onchoose} />
  {:else}
    {#each small.filter((n) => lay[n.part.id]! < room - 66) as n (n.key)}
      <button class="note slim" style:top="{lay[n.part.id]}px" onclick={() => onchoose(n.part.id)}>
        <span class="name"
          ><b>{n.part.name}</b>
          {#if n.part.shared && !n.part.change_id}<span class="is-client">{n.part.shared}</span>{/if}</span
        >
        {#if notesOf(request.notes, bench.changes, bench.page.id, n.part).length}<span class="is-look small"
            >client: not yet</span
          >{:else if n.part.change_id}<Seam state="kept">kept</Seam>{:else}<span class="soft small">shared</span>{/if}
      </button>
    {/each}
    {#if current}
      <div
        class="note big"
        role="presentation"
        style:top="{top}px"
        style:max-height={still === undefined ? undefined : `${room - 36 - still}px`}
        bind:clientHeight={tall}
        onpointerenter={() => (still = top)}
        onpointerleave={() => (still = undefined)}
      >
        {#key desk.hand?.name ?? hold}
          <PartEditor {bench} {desk} {request} part={current} {wish} {onchoose} />
        {/key}
      </div>
    {:else if !bench.page.locked}
      <div class="facts" bind:clientHeight={factsTall}>
        <HiddenHere {bench} {desk} {wish} {onchoose} />
        <FactsEditor number={request.row.number} {bench} {desk} {wish} {onchoose} />
      </div>
    {/if}
  {/if}
  {#if desk.unsent.aside.length || desk.unsent.undecided.length}
    <div class="beside"><TwoWordings {desk} /><Aside {desk} /></div>
  {/if}
  <p class="foot small" class:is-stop={desk.state === 'unsent'} role="status">
    {desk.problem && desk.state !== 'unsent' ? desk.problem : said}
  </p>
</section>

<style>
  .margin {
    position: relative;
    min-height: 0;
    overflow: hidden;
    padding: var(--step-2h) var(--step-5) 0 34px;
  }
  .note {
    position: absolute;
    left: 34px;
    right: 20px;
    background: var(--paper);
    border: 1px solid var(--hem);
    border-radius: var(--radius);
    font-size: var(--size-m);
    text-align: left;
  }
  .note::before {
    content: '';
    position: absolute;
    right: 100%;
    top: 18px;
    width: 34px;
    border-top: 2px dashed var(--weld);
  }
  .slim {
    display: flex;
    justify-content: space-between;
    gap: var(--step-2h);
    align-items: center;
    padding: var(--step-2) var(--step-3);
    height: 36px;
    cursor: pointer;
  }
  .slim:hover {
    border-color: var(--indigo);
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .big {
    border: 1.5px solid var(--indigo);
    z-index: 2;
    max-height: calc(100% - 44px);
    overflow: auto;
  }
  .big::before {
    border-top: 2px solid var(--indigo);
  }
  .facts {
    position: absolute;
    left: 34px;
    right: 20px;
    bottom: 40px;
  }
  .follows {
    display: grid;
    gap: var(--step-2);
  }
  .beside {
    position: absolute;
    left: 34px;
    right: 20px;
    bottom: 34px;
    z-index: 4;
  }
  .foot {
    position: absolute;
    left: 34px;
    right: 20px;
    bottom: 0;
    padding: var(--step-1h) 0 var(--step-2);
    color: var(--ink-soft);
    background: var(--linen);
    z-index: 3;
  }
  .foot.is-stop {
    color: var(--madder);
    font-weight: 600;
  }
</style>
