<script lang="ts">
  import { Asked } from '../../api/asked.svelte';
  import { answer, api, type Schemas } from '../../api/client';
  import { refresh, zoneOf } from '../../api/session.svelte';
  import Key from '../../look/Key.svelte';
  import { onKeys } from '../../look/keys.svelte';
  import { complain, say } from '../../look/toast';
  import Loaded from '../../parts/Loaded.svelte';
  import Ask from '../../parts/Ask.svelte';
  import { go, route } from '../../router';
  import Top from '../request/Top.svelte';
  import BeingSpread from './BeingSpread.svelte';
  import Changes from './Changes.svelte';
  import Checks from './Checks.svelte';
  import ClearOver from './ClearOver.svelte';
  import Pair from './Pair.svelte';
  import Pictures from './Pictures.svelte';
  import RoundSheet from './RoundSheet.svelte';
  import { Shots } from './shots.svelte';
  import Segments from '../../look/Segments.svelte';
  import { untrack } from 'svelte';

  const number = $derived(Number(route.params.number));
  const asked = new Asked(() => answer(api.GET('/requests/{number}/proof', { params: { path: { number } } })));
  const proof = $derived(asked.got);
  let at = $state(0);
  let asking = $state(false);
  let overruling = $state(false);
  let busy = $state(false);
  let part = $state('');

  $effect(() => void asked.again());
  const page = $derived(proof?.pages[at]);
  let seen = $state<'pages' | 'pictures'>('pages');
  const drafted = $derived(page && `${page.page.id} ${page.changes.map((c) => `${c.id} ${c.say}`).join()}`);
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

  async function send() {
    busy = true;
    try {
      const sent = await answer(api.POST('/requests/{number}/proof', { params: { path: { number } } }));
      asked.take(sent);
      say(`Sent to ${sent.contact_name}.`);
    } catch (e) {
      complain(e);
    } finally {
      busy = false;
    }
  }
  onKeys(() => ({
    c: (down) =>
      down && !busy && proof?.can_clear && !proof.can_publish && proof.row.state !== 'with client' && askToClear(),
    s: (down) => down && !busy && proof?.can_send && !proof.can_publish && (asking = true),
    p: (down) => down && proof?.can_publish && go(`/requests/${number}/release`),
  }));
  function askToClear() {
    if (proof?.not_yet.length) overruling = true;
    else void clear();
  }
  async function clear(why?: string) {
    busy = true;
    try {
      const path = { number };
      await answer(
        api.POST('/requests/{number}/state', { params: { path }, body: { to: 'cleared', ...(why && { why }) } }),
      );
      refresh();
      go(`/requests/${number}/release`);
    } catch (e) {
      complain(e);
    } finally {
      busy = false;
    }
  }
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
  <Top row={proof.row} page={page?.page.id}>
    {#if proof.can_publish}
      <a class="btn go" href="/requests/{number}/release"
        >Publish {all.length} {all.length === 1 ? 'change' : 'changes'} <Key k="P" /></a
      >
    {:else if proof.row.state === 'with client'}
      <button class="btn" disabled={!proof.can_send || busy} onclick={() => (asking = true)}
        >Send again <Key k="S" /></button
      >
    {:else}
      {#if proof.can_clear}<button class="btn" disabled={busy} onclick={askToClear}
          >Clear it ourselves <Key k="C" /></button
        >{/if}
      <button class="btn go" disabled={!proof.can_send || busy} onclick={() => (asking = true)}
        >{busy ? 'Sending…' : 'Send to client'} <Key k="S" /></button
      >
    {/if}
  </Top>
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
        {#key page.page.id}
          {#if seen === 'pictures' && shots}<Pictures {number} {page} {shots} {look} />{:else}<Pair
              {page}
              {part}
              {look}
            />{/if}
        {/key}
      </section>
      <aside>
        {#if proof.why_not_send && !proof.can_publish}<p class="said">{proof.why_not_send}</p>{/if}
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
  <ClearOver bind:open={overruling} {proof} onclear={(why) => void clear(why)} />
  <Ask bind:open={asking} title="Send to {proof.contact_name}?" act="Send the proof" onact={send}>
    {proof.contact_mail} gets a letter with a link that needs no account. {all.length === 1
      ? 'One change'
      : `${all.length} changes`} can be answered there one by one. Nothing goes live.
  </Ask>
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
