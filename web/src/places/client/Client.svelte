<script lang="ts">
  import { answer, api, words, type Schemas } from '../../api/client';
  import { drawer, read } from '../../look/drawer';
  import { longDay } from '../../look/time';
  import { alike } from '../../parts/alike';
  import ClientChange from './ClientChange.svelte';
  import PagePictures from './PagePictures.svelte';
  import SignHere from './SignHere.svelte';

  /** The one page that a client sees: what changes, right or not yet, a name. */
  const token = location.pathname.split('/')[2] ?? '';
  const mine = `mendry.answer.${token}`;
  type Said = Record<number, { verdict: Schemas['Verdict']; note: string }>;

  let proof = $state<Schemas['ClientProof'] | undefined>();
  let problem = $state('');
  let said = $state<Said>({});
  let name = $state('');
  let more = $state('');

  function take(p: Schemas['ClientProof']) {
    proof = p;
    const kept = read<{ round: number; said: Said; name: string; more: string }>(mine); // on this phone, and not sent
    const mineOf = kept?.round === p.round ? kept : undefined;
    [name, more] = [mineOf?.name ?? name, mineOf?.more ?? ''];
    said = Object.fromEntries(
      p.changes.map((c) => [
        c.id,
        {
          verdict: c.verdict || mineOf?.said[c.id]?.verdict || (settled(c) ? 'right' : ''),
          note: c.note || mineOf?.said[c.id]?.note || '',
        },
      ]),
    );
  }
  answer(api.GET('/proof/{token}', { params: { path: { token } } })).then(take, (e) => (problem = words(e)));
  $effect(() => {
    if (proof?.state === 'open') drawer.put(mine, JSON.stringify({ round: proof.round, said, name, more }));
  });

  // What is new, and what was not yet right, comes first; what was found right and is as it was keeps that answer.
  const settled = (c: Schemas['ClientChange']) => c.earlier?.verdict === 'right' && c.earlier.same;
  const cards = $derived(
    alike(proof?.changes.filter((c) => said[c.id]) ?? []).sort(
      (a, b) => Number(a.every(settled)) - Number(b.every(settled)),
    ),
  );
  /** What is said to one of several that are alike is said to all of them. */
  function answerAll(card: Schemas['ClientChange'][], v: Said[number]) {
    for (const c of card) said[c.id] = { ...v };
  }
  const many = $derived(Math.max(proof?.pages.length ?? 0, ...(proof?.changes ?? []).map((c) => c.on_pages)));
  const unanswered = $derived(cards.filter((g) => !said[g[0]!.id]!.verdict));
  function restRight() {
    for (const g of unanswered) answerAll(g, { verdict: 'right', note: '' });
  }
  const notYet = $derived(cards.filter((g) => said[g[0]!.id]!.verdict === 'not yet').length);

  async function send() {
    const answers = Object.entries(said).map(([id, s]) => ({
      change_id: Number(id),
      verdict: s.verdict,
      note: s.note,
    }));
    const body = { answers, name, more, round: proof!.round };
    const now = await answer(api.POST('/proof/{token}', { params: { path: { token } }, body }));
    drawer.drop(mine);
    take(now);
    scrollTo({ top: 0 });
  }
</script>

<svelte:head
  ><title>{proof ? `${proof.site_name}: changes for you to see` : 'Changes for you to see'}</title></svelte:head
>
{#if problem}
  <main class="sorry">
    <h1>This page cannot be shown</h1>
    <p>{problem}</p>
  </main>
{:else if proof}
  <header style:background={proof.colour}>
    <p>{proof.site_name} · {proof.state === 'open' ? 'changes ready for you' : 'your answer is in'}</p>
    <h1>{proof.subject}</h1>
    <p>
      You asked on {longDay(proof.asked_on)} · {proof.changes.length}
      {proof.changes.length === 1 ? 'change' : 'changes'} on {many}
      {many === 1 ? 'page' : 'pages'}{proof.round > 1 ? ` · round ${proof.round}` : ''}
    </p>
  </header>
  <main>
    {#if proof.passed_on}
      <p class="said look" role="status">
        <b
          >{proof.state === 'signed' || proof.state === 'answered'
            ? 'Somebody has answered this already, on another phone or computer.'
            : 'These changes were worked on while you looked.'}</b
        >
        Nothing that you wrote is lost: it was passed on to whoever works on it{proof.state === 'open'
          ? '. This is how it is now; please look once more.'
          : '.'}
      </p>
    {/if}
    {#if proof.state === 'signed'}
      <p class="said fine" role="status">
        <b>Thank you, {proof.signed_name}.</b> You signed these changes. {proof.live
          ? 'They are live.'
          : 'They go live next; this page says when they are. A copy is in your mail.'}
      </p>
    {:else if proof.state === 'answered'}
      <p class="said look" role="status">
        <b>Thank you.</b> Your notes are with us. You get a new link when we have worked on them.
      </p>
    {:else if proof.state === 'stale'}
      <p class="said look" role="status">
        These changes are being worked on again. You get a new link when they are ready.
      </p>
    {:else}
      <p class="intro">Nothing is live yet. Please say of each change whether it is right.</p>
    {/if}
    {#each cards as card (card[0]!.id)}
      <ClientChange
        {token}
        changes={card}
        open={proof.state === 'open'}
        bind:said={() => said[card[0]!.id]!, (v) => answerAll(card, v)}
      />
    {/each}
    {#if proof.state === 'open' && unanswered.length > 1 && cards.length > 2}
      <p>
        <button class="btn" type="button" onclick={restRight}
          >All right, for the {unanswered.length} that are left</button
        >
      </p>
    {/if}
    {#if proof.not_done.length}
      <section class="see">
        <h2>What is not done</h2>
        <ul>
          {#each proof.not_done as n (n.words)}
            <li>“{n.words}” {n.impossible ? 'cannot be done' : 'is not done'}{n.why ? `: ${n.why}` : '.'}</li>
          {/each}
        </ul>
      </section>
    {/if}
    <section class="see">
      <h2>See the pages as they will look</h2>
      <ul>
        {#each proof.pages as p (p.draft_url)}
          <li>
            <a href={p.draft_url} target="_blank" rel="noopener noreferrer">{p.title}</a> <span class="soft">or</span>
            <a href={p.live_url} target="_blank" rel="noopener noreferrer">as it is now</a>
            {#if p.shots.length}<PagePictures {token} shots={p.shots} />{/if}
          </li>
        {/each}
      </ul>
    </section>
    {#if proof.state === 'open'}<SignHere left={unanswered.length} {notYet} bind:name bind:more {send} />{/if}
  </main>
{:else}
  <main class="sorry">
    <h1>Changes for you to see</h1>
    <p role="status">One moment…</p>
  </main>
{/if}

<style>
  header,
  main {
    max-width: 620px;
    margin: 0 auto;
  }
  header {
    padding: var(--step-4) var(--step-4);
    color: var(--white);
    max-width: none;
  }
  header > * {
    max-width: 590px;
    margin: 0 auto;
  }
  header p {
    font-size: var(--size-s);
  }
  h1 {
    font-size: 24px;
    padding: var(--step) 0;
    overflow-wrap: anywhere;
  }
  main {
    padding: var(--step-3h);
    display: grid;
    gap: var(--step-3h);
  }
  .intro {
    padding: 0 var(--step-half);
  }
  .see h2 {
    font-size: var(--size);
    padding: 0 var(--step-half) var(--step);
  }
  .see li {
    padding: var(--step) var(--step-half);
    overflow-wrap: anywhere;
  }
  .sorry {
    padding: var(--step-10) var(--step-5);
    display: grid;
    gap: var(--step-2h);
  }
</style>
