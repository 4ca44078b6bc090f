<script lang="ts">
  import { Asked } from '../../api/asked.svelte';
  import { answer, api, type Schemas } from '../../api/client';
  import { zoneOf } from '../../api/session.svelte';
  import Loaded from '../../parts/Loaded.svelte';
  import { route } from '../../router';
  import BeingSpread from './BeingSpread.svelte';
  import Changes from './Changes.svelte';
  import Checks from './Checks.svelte';
  import EditedSince from './EditedSince.svelte';
  import OnHost from './OnHost.svelte';
  import Pair from './Pair.svelte';
  import Pictures from './Pictures.svelte';
  import ProofTop from './ProofTop.svelte';
  import RoundSheet from './RoundSheet.svelte';
  import { Shots } from './shots.svelte';
  import Segments from '../../look/Segments.svelte';
  import { untrack } from 'svelte';

  const number = $derived(Number(route.params.number));
  const asked = new Asked(() => answer(api.GET('/requests/{number}/proof', { params: { path: { number } } })));
  const proof = $derived(asked.got);
  let at = $state(0);
  let part = $state('');

  $effect(() => void asked.again());
  const page = $derived(proof?.pages[at]);
  let seen = $state<'pages' | 'pictures'>('pages');
  // Which page, and what it is, live and after: its views have the same addresses whatever becomes of it.
  const drafted = $derived(page && `${page.page.id} ${page.live} ${page.draft}`);
  let shots = $state.raw<Shots | undefined>();
  $effect(() => {
    if (!drafted) return;
    const taken = untrack(() => new Shots(number, page!.page.id, () => void asked.again()));
    shots = taken;
    return () => taken.end();
  });
  const all = $derived(proof?.pages.flatMap((p) => p.changes) ?? []);

  // What stops stands first.
  const stops = $derived(
    [...(proof?.findings ?? []), ...(proof?.pages.flatMap((p) => p.findings) ?? [])].some((f) => f.level === 'stop'),
  );
</script>

{#snippet checks(p: Schemas['Proof'])}
  <Checks {number} site={p.row.site_id} pages={p.pages} findings={p.findings} onmended={() => asked.again()} />
{/snippet}
{#snippet look()}
  <Segments
    label="Look at"
    choices={[
      { value: 'pages', label: 'pages' },
      {
        value: 'pictures',
        label: shots?.under ? 'pictures …' : 'pictures',
        title: 'as a browser draws them, with what looks different boxed',
      },
    ]}
    bind:value={seen}
  />
{/snippet}
<svelte:head><title>Proof · Mendry</title></svelte:head>
<Loaded of={asked} />
{#if proof}
  <ProofTop {proof} page={page?.page.id} changes={all.length} onproof={(p) => asked.take(p)} />
  {#if proof.spreading}
    <div class="page"><BeingSpread spreading={proof.spreading} again={() => asked.again()} /></div>
  {:else if proof.pages.length === 0}
    <div class="page">
      <div class="sheet none">
        <h2>Nothing is kept</h2>
        <p class="soft">What is changed on the bench shows here, beside the live page, before anybody else sees it.</p>
        {#if proof.row.live > 0}<p><a class="btn" href="/requests/{number}/release">See what is live</a></p>{/if}
      </div>
      {#if proof.round}<RoundSheet round={proof.round} changes={[]} zone={zoneOf(proof.row.site_id)} />{/if}
    </div>
  {:else if page}
    <div class="proof">
      <section class="pages">
        {#if proof.pages.length > 1}
          <div class="tabs" role="group" aria-label="Pages">
            {#each proof.pages as p, i (p.page.id)}
              <button class="mono" aria-pressed={i === at} onclick={() => (at = i)}
                >{p.page.address} <span class="soft">{p.changes.length}</span></button
              >
            {/each}
          </div>
        {/if}
        {#key drafted}
          {#if seen === 'pictures' && shots}<Pictures {number} {page} {shots} {look} />{:else}<Pair
              {page}
              {part}
              {look}
            />{/if}
        {/key}
      </section>
      <aside>
        {#if proof.why_not_send && !proof.can_publish}<p class="said">{proof.why_not_send}</p>{/if}
        <OnHost number={proof.row.number} ontaken={() => asked.again()} />
        {#if proof.edited}<EditedSince {proof} edited={proof.edited} onproof={(p) => asked.take(p)} />{/if}
        {#if stops}{@render checks(proof)}{/if}
        {#if proof.round}<RoundSheet round={proof.round} changes={all} zone={zoneOf(proof.row.site_id)} />{/if}
        <Changes
          number={proof.row.number}
          pages={proof.pages}
          round={proof.round}
          onchange={(p, id) => {
            at = p;
            part = id;
          }}
          onpages={() => void asked.again()}
        />
        {#if !stops}{@render checks(proof)}{/if}
      </aside>
    </div>
  {/if}
{/if}

<style>
  .proof {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 372px;
    gap: var(--step-4);
    padding: var(--step-3) var(--step-5) 0;
    height: calc(100vh - 52px - 62px);
    min-height: 520px;
  }
  .pages {
    display: flex;
    flex-direction: column;
    min-height: 0;
    gap: var(--step-2);
  }
  .tabs {
    display: flex;
    gap: var(--step-1h);
    flex-wrap: wrap;
  }
  .tabs button {
    border: 1px solid var(--hem-strong);
    background: var(--paper);
    border-radius: var(--radius);
    padding: var(--step) var(--step-2h);
    cursor: pointer;
  }
  .tabs button[aria-pressed='true'] {
    border-color: var(--ink);
    font-weight: 700;
  }
  aside {
    overflow: auto;
    display: grid;
    gap: var(--step-3h);
    align-content: start;
    padding-bottom: var(--step-5);
  }
  .none {
    padding: var(--step-7);
    display: grid;
    gap: var(--step-2h);
    max-width: 560px;
    margin-bottom: var(--step-4);
  }
</style>
