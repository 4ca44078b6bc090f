<script lang="ts">
  import { Collapsible } from '@skeletonlabs/skeleton-svelte';
  import { answer, api, type Schemas } from '../../api/client';
  import { complain } from '../../look/toast';
  import FindPlace from './FindPlace.svelte';

  let {
    wish,
    index,
    row,
    open,
    ontoggle,
    onchange,
    onbench,
  }: {
    wish: Schemas['Wish'];
    index: number;
    row: Schemas['RequestRow'];
    open: boolean;
    ontoggle: () => void;
    onchange: (r: Schemas['Request']) => void;
    onbench: () => void;
  } = $props();

  let why = $state('');
  const at = $derived({ params: { path: { number: row.number, wish: wish.id } } });

  async function set(body: Schemas['WishSet']) {
    try {
      onchange(await answer(api.POST('/requests/{number}/wishes/{wish}', { ...at, body })));
    } catch (e) {
      complain(e);
    }
  }
  async function drop() {
    try {
      onchange(await answer(api.DELETE('/requests/{number}/wishes/{wish}', at)));
    } catch (e) {
      complain(e);
    }
  }
</script>

<article class="sheet" class:open>
  <Collapsible class="card" {open} onOpenChange={ontoggle}>
    <Collapsible.Trigger class="head">
      <b class="n">{index}</b>
      <span class="words">{wish.words}</span>
      <span class="small">
        {#if wish.problem}<span class="is-stop">can’t be</span>
        {:else if wish.state === 'done'}<span class="is-live">done</span>
        {:else if wish.state !== 'open'}<span class="soft">{wish.state}</span>
        {:else if wish.page_id}<span class="placed">placed</span>
        {:else}<span class="is-kept">no place yet</span>{/if}
      </span>
    </Collapsible.Trigger>
    {#if wish.page_id}
      <p class="place small">
        <span class="mono">{wish.address}</span>{wish.part_name ? ` · ${wish.part_name}` : ''}
        <button class="btn slim" onclick={onbench}>Open on the bench</button>
      </p>
    {/if}
    {#if wish.why}<p class="place small soft">{wish.why}</p>{/if}
    <Collapsible.Content
      >{#if open}
        <div class="body">
          {#if wish.problem}<p class="said">
              {wish.problem} Ask which day is meant, or mark the wish as impossible and say why.
            </p>{/if}
          {#if wish.state === 'open' || wish.state === 'done'}
            <FindPlace
              site={row.site_id}
              siteName={row.site_name}
              seed={wish.page_id ? '' : wish.words}
              onplace={(page_id, part) => set({ page_id, part })}
            />
            <p class="close">
              <label class="field grow"
                ><span class="unseen">Why it will not be done</span><input
                  class="box"
                  placeholder="why it will not be done"
                  bind:value={why}
                /></label
              >
              <button class="btn slim" disabled={!why.trim()} onclick={() => set({ state: 'declined', why })}
                >Declined</button
              >
              <button class="btn slim" disabled={!why.trim()} onclick={() => set({ state: 'impossible', why })}
                >Impossible</button
              >
              <button class="btn slim quiet" onclick={drop}>Take mark out</button>
            </p>
          {:else}
            <button class="btn slim" onclick={() => set({ state: 'open', why: '' })}>Open it again</button>
          {/if}
        </div>
      {/if}</Collapsible.Content
    >
  </Collapsible>
</article>

<style>
  .open {
    border-color: var(--indigo);
  }
  article :global(.card) {
    display: block;
  }
  article :global(.head) {
    display: grid;
    grid-template-columns: auto minmax(0, 1fr) auto;
    gap: var(--step-3);
    align-items: baseline;
    width: 100%;
    text-align: left;
    padding: var(--step-2h) var(--step-3h);
    cursor: pointer;
  }
  .n {
    font: 700 12px var(--mono);
    color: var(--ink-soft);
  }
  .placed {
    color: var(--indigo);
  }
  .words {
    overflow-wrap: anywhere;
  }
  .place {
    padding: 0 var(--step-3h) var(--step-2h) 36px;
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-2h);
    align-items: center;
  }
  .body {
    border-top: 1px dashed var(--hem-strong);
    padding: var(--step-3) var(--step-3h) var(--step-3h);
    display: grid;
    gap: var(--step-2h);
  }
  .close {
    display: flex;
    gap: var(--step-2);
    align-items: center;
  }
  .grow {
    flex: 1;
  }
</style>
