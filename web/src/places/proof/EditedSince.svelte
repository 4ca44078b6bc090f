<script lang="ts">
  import { answer, api, type Schemas } from '../../api/client';
  import { Doing } from '../../look/doing.svelte';
  import { say } from '../../look/toast';
  import Theirs from '../../parts/Theirs.svelte';

  /** Pages that others edited since they were cleared: what they did, and whether what was cleared stands all the same. */
  let {
    proof,
    edited,
    onproof,
  }: { proof: Schemas['Proof']; edited: Schemas['Edited']; onproof: (p: Schemas['Proof']) => void } = $props();

  const doing = new Doing();
  const stand = () =>
    doing.run(async () => {
      const path = { number: proof.row.number };
      const body = { agreed: edited.agreed };
      onproof(await answer(api.POST('/requests/{number}/proof/carry', { params: { path }, body })));
      say('The clearance stands.');
    });
</script>

<section class="sheet" aria-label="Edited since it was cleared">
  <h2>Edited by others since it was cleared</h2>
  {#if edited.why_not}
    <p class="said look">{edited.why_not} It has to be looked at again.</p>
  {:else}
    <p>
      What {edited.signed_name} cleared in round {edited.round} stands there word for word, in the same place.
    </p>
  {/if}
  {#each edited.pages as p (p.page.id)}
    <p class="small">They changed on <span class="mono">{p.page.address}</span></p>
    <div class="small"><Theirs differences={p.theirs} /></div>
  {/each}
  {#if !edited.why_not}
    <p>
      <button class="btn go" disabled={doing.busy || !proof.can_send} onclick={stand}>Let the clearance stand</button>
    </p>
    <p class="small soft">The record names what they changed, and you. Or send the client another round.</p>
  {/if}
</section>

<style>
  section {
    padding: var(--step-3) var(--step-3h);
    display: grid;
    gap: var(--step-2);
  }
  h2 {
    font-size: var(--size-l);
  }
</style>
