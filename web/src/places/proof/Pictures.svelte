<script lang="ts">
  import type { Snippet } from 'svelte';
  import Segments from '../../look/Segments.svelte';
  import type { Schemas } from '../../api/client';
  import Seam from '../../parts/Seam.svelte';
  import Shot from '../../parts/Shot.svelte';
  import { Together } from '../bench/together';
  import type { Shots } from './shots.svelte';

  /** Before and after as pictures, as a browser draws them, with what looks different boxed. */
  let { number, page, shots, look }: { number: number; page: Schemas['ProofPage']; shots: Shots; look: Snippet } =
    $props();

  let width = $state<'390' | '768' | '1280'>('768');
  const got = $derived(shots.got);
  const shot = $derived(got?.shots.find((s) => `${s.width}` === width));
  const others = $derived(shot?.regions.filter((r) => !r.intended).length ?? 0);
  let live = $state<HTMLElement>();
  let draft = $state<HTMLElement>();
  const together = new Together<'live' | 'draft'>();
  function follow(who: 'live' | 'draft') {
    const [from, to] = who === 'live' ? [live, draft] : [draft, live];
    if (from && to && together.scrolled(who)) to.scrollTop = from.scrollTop;
  }
  const of = (png: string) => `/api/requests/${number}/shots/${png}`;
  const widths = [
    { value: '390' as const, label: '390' },
    { value: '768' as const, label: '768' },
    { value: '1280' as const, label: '1280' },
  ];
</script>

{#if shot}
  <div class="pair">
    <section aria-label="Live now, as a picture">
      <h2>Live now <span class="mono soft">{page.page.address}</span></h2>
      <!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls) -->
      <div
        class="pane"
        role="group"
        aria-label="The live page"
        tabindex="0"
        bind:this={live}
        onscroll={() => follow('live')}
      >
        <Shot src={of(shot.before)} alt="The live page, {width} points wide" {shot} side="before" />
      </div>
    </section>
    <section aria-label="After, as a picture">
      <h2>After <Seam state="kept">kept, not live</Seam></h2>
      <!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls) -->
      <div
        class="pane after"
        role="group"
        aria-label="The page after"
        tabindex="0"
        bind:this={draft}
        onscroll={() => follow('draft')}
      >
        <Shot src={of(shot.after)} alt="The page after, {width} points wide" {shot} side="after" />
      </div>
    </section>
  </div>
{:else}
  <div class="none" role="status">
    {#if shots.problem}<p>{shots.problem}</p>
    {:else if got?.state === 'off' || got?.state === 'failed'}
      <p>{got.say}</p>
      {#if got.state === 'failed'}<p><button class="btn slim" onclick={() => shots.ask()}>Try again</button></p>{/if}
    {:else if got?.state === 'none'}<p class="soft">Nothing is kept here that could be taken.</p>
    {:else}
      <p>The pictures are being taken. {got?.say}</p>
      <p class="soft small">It takes some twenty seconds; you can go on meanwhile.</p>
    {/if}
  </div>
{/if}
<div class="foot">
  {@render look()}
  <Segments label="Width" choices={widths} bind:value={width} />
  {#if shot}
    <span class="small" class:is-stop={others > 0}
      >{shot.regions.length === 0
        ? 'nothing looks different'
        : `${shot.regions.length - others} ${shot.regions.length - others === 1 ? 'place' : 'places'} where something was changed`}{others
        ? `, ${others} where nothing was`
        : ''}{shot.moving
        ? `; ${shot.moving} moving by ${shot.moving === 1 ? 'itself' : 'themselves'}, left out`
        : ''}{shot.cut ? '; the page goes on below' : ''}</span
    >
  {/if}
</div>

<style>
  .pair {
    flex: 1;
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: var(--step-3h);
    min-height: 0;
  }
  section {
    display: flex;
    flex-direction: column;
    min-height: 0;
  }
  h2 {
    font-size: var(--size);
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    padding-bottom: var(--step-1h);
  }
  h2 .mono {
    font-weight: 400;
  }
  .pane {
    flex: 1;
    min-height: 0;
    overflow: auto;
    border: 1px solid var(--hem-strong);
  }
  .after {
    border: 2px dashed var(--weld);
  }
  .none {
    flex: 1;
    display: grid;
    place-content: center;
    justify-items: center;
    gap: var(--step-2);
    padding: var(--step-6);
    text-align: center;
    border: 1px dashed var(--hem-strong);
  }
  .foot {
    display: flex;
    gap: var(--step-3h);
    align-items: center;
    min-height: 46px;
    padding: var(--step-half) 0 var(--step-3);
  }
</style>
