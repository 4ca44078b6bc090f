<script lang="ts">
  import { answer, api, type Schemas } from '../../api/client';
  import { Doing } from '../../look/doing.svelte';
  import Theirs from '../../parts/Theirs.svelte';

  /** Says of the pages of a proof which of them others edited on their host: a release would stop there. */
  let { number, ontaken }: { number: number; ontaken: () => Promise<void> } = $props();

  let look = $state<Schemas['PagesLook'] | undefined>();
  let problem = $state('');
  const doing = new Doing();

  $effect(() => {
    const path = { number };
    [look, problem] = [undefined, ''];
    let gone = false;
    answer(api.POST('/requests/{number}/proof/look', { params: { path } })).then(
      (l) => !gone && (look = l),
      (e: Error) => !gone && (problem = e.message),
    );
    return () => (gone = true);
  });
  const take = () =>
    doing.run(async () => {
      for (const p of look!.pages)
        await answer(api.POST('/pages/{page}/take-in', { params: { path: { page: p.page.id } } }));
      look = undefined;
      await ontaken();
    });
</script>

{#if problem}<p class="said look" role="status">The live pages could not be looked at just now: {problem}</p>{/if}
{#if look?.unseen}<p class="said look" role="status">
    {look.unseen === 1 ? 'One live page' : `${look.unseen} live pages`} could not be looked at just now: {look.why}
  </p>{/if}
{#if look?.pages.length}
  <section class="said" aria-label="Edited by others">
    <p>
      <b
        >Somebody else changed {look.pages.length === 1 ? 'this page' : 'these pages'} since Mendry last read {look
          .pages.length === 1
          ? 'it'
          : 'them'}.</b
      >
      Publishing would stop there; nothing of theirs is overwritten.
    </p>
    {#each look.pages as p (p.page.id)}
      <p class="mono">{p.page.address}</p>
      <Theirs differences={p.theirs} />
    {/each}
    <p>
      <button class="btn slim" disabled={doing.busy} onclick={take}
        >{doing.busy
          ? 'Taking in…'
          : look.pages.length === 1
            ? 'Take in the newer page'
            : 'Take in the newer pages'}</button
      >
      <span class="small">Your kept changes stay and are brought onto {look.pages.length === 1 ? 'it' : 'them'}.</span>
    </p>
  </section>
{/if}

<style>
  section {
    display: grid;
    gap: var(--step-1h);
  }
</style>
