<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { momentWords } from '../../look/time';

  let { round, changes, zone }: { round: Schemas['RoundView']; changes: Schemas['Change'][]; zone?: string } = $props();
  const right = $derived(round.answers.filter((a) => a.verdict === 'right').length);
  const notYet = $derived(round.answers.filter((a) => a.verdict === 'not yet'));
  /** What is written of a change that is there, or of none. */
  const of = (id?: number) => changes.find((c) => c.id === id)?.part_name ?? (id ? 'a change' : 'one thing more');
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
      {#if round.reminded_at}Reminded {momentWords(round.reminded_at, zone)}.{/if}
      {#if round.answered_at}Answered{round.answered_by && ` by ${round.answered_by}`}, {momentWords(
          round.answered_at,
          zone,
        )}: {right} right, {notYet.length}
        not yet.
      {:else if round.opened_at}Opened {momentWords(round.opened_at, zone)}, no answer yet.
      {:else}Not opened yet.{/if}
      {#if round.signed_name}<b class="is-live">Signed {round.signed_name}.</b>{/if}
    {/if}
  </p>
  {#if round.more}
    <p class="said look small"><b>One thing more:</b> {round.more}</p>
  {/if}
  {#if round.late.length}
    <div class="said look small">
      <b>Written once more, when it was answered already</b>
      {#each round.late as l, i (i)}
        <p>
          {l.name || 'Somebody'}, {momentWords(l.at, zone)}, {of(l.change_id)}: {[l.verdict, l.note]
            .filter(Boolean)
            .join('. ')}
        </p>
      {/each}
    </div>
  {/if}
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
