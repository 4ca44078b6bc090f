<script lang="ts">
  import type { Schemas } from '../../api/client';
  import Ask from '../../parts/Ask.svelte';

  /** Asks before a request is cleared over what the client said, and why. */
  let {
    open = $bindable(),
    proof,
    onclear,
  }: { open: boolean; proof: Schemas['Proof']; onclear: (why: string) => void } = $props();

  let why = $state('');
</script>

<Ask
  bind:open
  title="{proof.contact_name} said “not yet”"
  act="Clear it all the same"
  ready={!!why.trim()}
  onact={() => onclear(why.trim())}
>
  <ul>
    {#each proof.not_yet as said (said.change_id)}
      <li>
        <span class="small soft">{said.say}, round {said.round}</span>
        <q>{said.note}</q>
      </li>
    {/each}
  </ul>
  <label class="field">
    <span>Why it is cleared all the same</span>
    <textarea class="box" rows="3" maxlength="500" bind:value={why}></textarea>
  </label>
  <p class="small soft">What they said and why you clear it stand in the record. Or send them another round.</p>
</Ask>

<style>
  ul {
    display: grid;
    gap: var(--step-2);
    max-height: 220px;
    overflow: auto;
  }
  li {
    display: grid;
    gap: var(--step-half);
  }
  q {
    white-space: pre-wrap;
  }
  textarea {
    width: 100%;
    resize: vertical;
  }
</style>
