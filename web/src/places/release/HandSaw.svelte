<script lang="ts">
  import type { Schemas } from '../../api/client';
  import Runs from '../../parts/Runs.svelte';
  import { settled } from './hand';

  /** What Mendry saw on the live pages, what else is different there, and the ways to end a list. */
  let {
    release: r,
    mail,
    subject,
    busy,
    clock,
    ontheirs,
    onact,
  }: {
    release: Schemas['Release'];
    mail: string;
    subject: string;
    busy: boolean;
    clock: (moment: string) => string;
    ontheirs: (step: number, key: string) => void;
    onact: (act: Schemas['ReleaseAct']) => void;
  } = $props();

  const seen = $derived(r.steps.filter((s) => s.seen_at));
  const others = $derived(r.steps.flatMap((s) => s.others.map((o) => ({ s, o }))));
  const fresh = $derived(others.filter((x) => !x.o.theirs));
  const known = $derived(others.filter((x) => x.o.theirs));
  const begun = $derived(r.steps.some((s) => s.items.some(settled)));
  function sum(s: Schemas['ReleaseStep']): { say: string; is: string } {
    const rows = s.items.filter((i) => !settled(i));
    if (s.state === 'written' || (rows.length === 0 && s.items.length > 0)) return { say: 'right', is: 'is-live' };
    if (rows.some((i) => i.seen === 'different')) return { say: 'not what was cleared', is: 'is-stop' };
    const done = s.items.length - rows.length;
    return { say: `${done ? `${done} of ${s.items.length} there` : 'as before'}, ${clock(s.seen_at!)}`, is: 'is-look' };
  }
  const letter = (s: Schemas['ReleaseStep'], say: string) =>
    `mailto:${mail}?subject=${encodeURIComponent(subject)}&body=${encodeURIComponent(
      `On ${s.address} something is different from what you saw in the proof, and it is not ours:\n\n${say}\n\nIs that as it should be?`,
    )}`;
</script>

<div class="side">
  <section class="sheet" aria-label="What Mendry saw">
    <h2>What Mendry saw</h2>
    {#each seen as s (s.id)}
      <p class="pair"><span class="mono">{s.address}</span><span class={sum(s).is}>{sum(s).say}</span></p>
      {#if s.said}<p class="soft">{s.said}</p>{/if}
    {:else}<p class="soft">Nothing yet. It looks at the live pages when you have put something in.</p>{/each}
  </section>
  {#if fresh.length}
    <section class="sheet other" aria-label="Something else is different">
      <h2>Something else is different</h2>
      {#each fresh as { s, o } (s.id + o.key)}
        <p>
          <span class="mono">{s.address}</span>: {#if o.difference.words.length}<Runs
              runs={o.difference.words}
            />{:else}{o.difference.say}{/if} <span class="soft">Not ours.</span>
        </p>
        <p class="acts">
          <button class="btn slim" disabled={busy} onclick={() => ontheirs(s.id, o.key)}>Theirs, leave it</button>
          <a class="btn slim" href={letter(s, o.difference.say)}>Tell the client</a>
        </p>
      {/each}
    </section>
  {/if}
  {#if known.length}
    <section class="sheet" aria-label="Left to them">
      <h2>Left to them</h2>
      {#each known as { s, o } (s.id + o.key)}<p class="soft">
          <span class="mono">{s.address}</span>: {o.difference.say}
        </p>{/each}
    </section>
  {/if}
  <section class="sheet" aria-label="The way back">
    <h2>The way back</h2>
    {#if r.undoes}<p class="soft">This is the way back: it puts in what stood there before.</p>
    {:else if begun}<p class="soft">The same list, turned round, is ready when you need it.</p>
    {:else}<p class="soft">Nothing of the list is live yet. Leave it, and all of it is kept as before.</p>{/if}
    <p class="acts">
      {#if begun && r.acts.includes('take-back')}<button
          class="btn slim"
          disabled={busy}
          onclick={() => onact('take-back')}>Turn the list round</button
        >{/if}
      {#if r.acts.includes('leave')}<button class="btn slim quiet" disabled={busy} onclick={() => onact('leave')}
          >Leave it as it is</button
        >{/if}
    </p>
  </section>
</div>

<style>
  .side {
    display: grid;
    gap: var(--step-3);
    align-content: start;
    font-size: var(--size-s);
  }
  section {
    padding: var(--step-2h) var(--step-3h) var(--step-3);
    display: grid;
    gap: var(--step-1h);
  }
  h2 {
    font-size: var(--size-m);
  }
  .other {
    border-color: var(--weld);
  }
  .pair {
    display: flex;
    justify-content: space-between;
    gap: var(--step-3);
  }
  .pair span:last-child {
    white-space: nowrap;
  }
  .mono {
    overflow-wrap: anywhere;
  }
  .acts {
    display: flex;
    gap: var(--step-2);
  }
</style>
