<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { momentWords } from '../../look/time';

  let { round, changes, zone }: { round: Schemas['RoundView']; changes: Schemas['Change'][]; zone?: string } = $props();
  const right = $derived(round.answers.filter((a) => a.verdict === 'right').length);
  const notYet = $derived(round.answers.filter((a) => a.verdict === 'not yet'));
  const gone = $derived(notYet.filter((a) => !changes.some((c) => c.id === a.change_id)));
</script>

<section class="sheet" aria-label="Round {round.n}">
  <h2>Round {round.n}</h2>
  <p class="small">
    {#if round.carries}Round {round.carries} stands beside what others edited: {round.signed_name} agreed to that,
      {momentWords(round.sent_at, zone)}. It was answered: {right} right, {notYet.length} not yet.
    {:else if !round.sent_to}Cleared by {round.signed_name}, by the client’s terms, {momentWords(round.sent_at, zone)}.
    {:else}
      <span class="is-client">Sent to {round.sent_to}, {momentWords(round.sent_at, zone)}.</span>
      {#if round.answered_at}Answered {momentWords(round.answered_at, zone)}: {right} right, {notYet.length} not yet.
      {:else if round.opened_at}Opened {momentWords(round.opened_at, zone)}, no answer yet.
      {:else}Not opened yet.{/if}
      {#if round.signed_name}<b class="is-live">Signed {round.signed_name}.</b>{/if}
    {/if}
  </p>
  {#each gone as a (a.change_id)}<p class="said look small">Not yet: {a.note}</p>{/each}
</section>

<style>
  section {
    padding: var(--step-3) var(--step-3h);
    display: grid;
    gap: var(--step-1h);
  }
  h2 {
    font-size: var(--size-l);
  }
</style>
