<script lang="ts">
  import { answer, api, type Schemas } from '../../api/client';
  import { complain } from '../../look/toast';
  import Theirs from '../../parts/Theirs.svelte';

  /** Says when somebody else changed the live page, and what. */
  let { page, conflict, ontaken }: { page: Schemas['PageRow']; conflict: string; ontaken: () => void } = $props();
  let look = $state<Schemas['PageLook'] | undefined>();
  let unseen = $state('');

  $effect(() => {
    const id = page.id;
    [look, unseen] = [undefined, ''];
    let gone = false;
    answer(api.POST('/pages/{page}/look', { params: { path: { page: id } } })).then(
      (l) => !gone && (look = l),
      (e: Error) => !gone && (unseen = e.message),
    );
    return () => (gone = true);
  });
  async function take() {
    try {
      await answer(api.POST('/pages/{page}/take-in', { params: { path: { page: page.id } } }));
      look = undefined;
      ontaken();
    } catch (e) {
      complain(e);
    }
  }
</script>

<div class="notes">
  {#if page.locked}<p class="said look" role="status"><b>This page is locked.</b> {page.locked}</p>{/if}
  {#if conflict}<p class="said" role="alert">{conflict}</p>{/if}
  {#if unseen}<p class="said look" role="status">The live page could not be looked at just now: {unseen}</p>{/if}
  {#if look && !look.same}
    <div class="said" role="alert">
      <p><b>{look.say}</b> Nothing of theirs is overwritten.</p>
      <div class="theirs"><Theirs differences={look.differences} /></div>
      <button class="btn slim" onclick={take}>Take in the newer page</button>
      <span class="small">Your kept changes stay and are brought onto it.</span>
    </div>
  {/if}
</div>

<style>
  .notes > * {
    margin-bottom: var(--step-2);
  }
  .theirs {
    margin: var(--step) 0 var(--step-2);
    max-height: 90px;
    overflow: auto;
  }
</style>
