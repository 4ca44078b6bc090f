<script lang="ts">
  import type { Snippet } from 'svelte';
  import Segments from '../../look/Segments.svelte';
  import type { Schemas } from '../../api/client';
  import Shot from '../../parts/Shot.svelte';
  import Beside from './Beside.svelte';
  import { Together } from '../bench/together';
  import type { Shots } from './shots.svelte';

  /** Before and after as pictures, as a browser draws them, with what looks different boxed. */
  let { number, page, shots, look }: { number: number; page: Schemas['ProofPage']; shots: Shots; look: Snippet } =
    $props();

  let width = $state<'390' | '768' | '1280'>('768');
  const got = $derived(shots.got);
  const shot = $derived(got?.shots.find((s) => `${s.width}` === width));
  const others = $derived(shot?.regions.filter((r) => !r.intended).length ?? 0);
  let livePane = $state<HTMLElement>();
  let draftPane = $state<HTMLElement>();
  const together = new Together<'live' | 'draft'>();
  function follow(who: 'live' | 'draft') {
    const [from, to] = who === 'live' ? [livePane, draftPane] : [draftPane, livePane];
    if (from && to && together.scrolled(who)) to.scrollTop = from.scrollTop;
  }
  const of = (png: string) => `/api/requests/${number}/shots/${png}`;
  const widths = [
    { value: '390' as const, label: '390' },
    { value: '768' as const, label: '768' },
    { value: '1280' as const, label: '1280' },
  ];
</script>

{#snippet foot()}
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
{/snippet}

{#if shot}
  <Beside address={page.page.address} as=", as a picture" {foot}>
    {#snippet live()}
      <!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls) -->
      <div role="group" aria-label="The live page" tabindex="0" bind:this={livePane} onscroll={() => follow('live')}>
        <Shot src={of(shot.before)} alt="The live page, {width} points wide" {shot} side="before" />
      </div>
    {/snippet}
    {#snippet after()}
      <!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls) -->
      <div role="group" aria-label="The page after" tabindex="0" bind:this={draftPane} onscroll={() => follow('draft')}>
        <Shot src={of(shot.after)} alt="The page after, {width} points wide" {shot} side="after" />
      </div>
    {/snippet}
  </Beside>
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
  <div class="foot">{@render foot()}</div>
{/if}

<style>
  [role='group'] {
    height: 100%;
    overflow: auto;
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
    gap: var(--step-5);
    align-items: center;
    padding: var(--step-half) 0 var(--step-3);
  }
</style>
