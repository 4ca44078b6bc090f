<script lang="ts">
  import { Asked } from '../../api/asked.svelte';
  import { answer, api, type Schemas } from '../../api/client';
  import { zoneOf } from '../../api/session.svelte';
  import { onKeys } from '../../look/keys.svelte';
  import Key from '../../look/Key.svelte';
  import { complain } from '../../look/toast';
  import { due, momentWords, weight } from '../../look/time';
  import Loaded from '../../parts/Loaded.svelte';
  import { go, route } from '../../router';
  import Everywhere from './Everywhere.svelte';
  import Letter from './Letter.svelte';
  import Proposals from './Proposals.svelte';
  import { selected } from './letter';
  import Top from './Top.svelte';
  import WishCard from './WishCard.svelte';

  const number = $derived(Number(route.params.number));
  const asked = new Asked(() => answer(api.GET('/requests/{number}', { params: { path: { number } } })));
  const r = $derived(asked.got);
  let current = $state<number | undefined>();
  let mark = $state<{ start: number; end: number } | undefined>();
  let sheet = $state<HTMLElement>();

  async function load() {
    await asked.again();
    current ??= Number(new URLSearchParams(location.search).get('wish')) || undefined;
    current ??= r?.wishes.find((w) => !w.page_id && w.state === 'open')?.id;
  }
  $effect(() => void load());
  $effect(() => {
    const look = () => (mark = sheet && selected(sheet));
    document.addEventListener('selectionchange', look);
    return () => document.removeEventListener('selectionchange', look);
  });

  async function addWish() {
    if (!mark) return;
    const [marked, open] = [mark, current];
    // At once: no second wish of the same words, and nothing is typed into the field of the wish before.
    [mark, current] = [undefined, undefined];
    try {
      const before = new Set(r?.wishes.map((w) => w.id));
      const path = { number };
      const got = await answer(api.POST('/requests/{number}/wishes', { params: { path }, body: marked }));
      asked.take(got);
      current ??= got.wishes.find((w) => !before.has(w.id))?.id;
      getSelection()?.removeAllRanges();
    } catch (e) {
      complain(e);
      mark ??= marked;
      current ??= open;
    }
  }
  const at = (w: Schemas['Wish']) =>
    `/requests/${number}/bench/${w.page_id}?wish=${w.id}${w.part ? `&part=${w.part}` : ''}`;
  const placed = $derived(r?.wishes.find((w) => w.id === current && w.page_id) ?? r?.wishes.find((w) => w.page_id));
  const firstPage = $derived(placed?.page_id ?? r?.thread[0]?.page_id);
  const toBench = $derived(placed ? at(placed) : `/requests/${number}/bench${firstPage ? `/${firstPage}` : ''}`);
  async function move(to: Schemas['RequestState']) {
    try {
      asked.take(await answer(api.POST('/requests/{number}/state', { params: { path: { number } }, body: { to } })));
    } catch (e) {
      complain(e);
    }
  }
  onKeys(() => ({
    m: (down) => down && addWish(),
    b: (down) => down && go(toBench),
  }));
</script>

<svelte:head><title>{r?.row.subject ?? 'Request'} · Mendry</title></svelte:head>
<Loaded of={asked} />
{#if r}
  <Top row={r.row} page={firstPage ?? undefined}>
    <a class="btn go" href={toBench}>To the bench <Key k="B" /></a>
  </Top>
  <div class="read">
    <section class="sheet paper" aria-label="The letter" bind:this={sheet}>
      <p class="soft small from">
        {r.row.from_name}, {r.row.kind === 'call' ? 'in a call' : 'by mail'}, {momentWords(
          r.row.received_at,
          zoneOf(r.row.site_id),
        )} · due {due(r.row.due_on, zoneOf(r.row.site_id)).words}
      </p>
      <Letter request={r} {current} onwish={(w) => (current = w.id)} />
      {#if r.attachments.length > 0}
        <ul class="files">
          {#each r.attachments as a (a.id)}
            <li>
              {#if a.media.startsWith('image/')}
                <img src="/api/requests/{number}/pictures/small?attachment_id={a.id}&size=320" alt="" />
                <span class="small"
                  >{a.name}<br /><span class="soft">{a.width} × {a.height}, {weight(a.size)}</span></span
                >
              {:else}
                <a class="small" href="/api/attachments/{a.id}" download={a.name}
                  >{a.name}<br /><span class="soft">{weight(a.size)}</span></a
                >
              {/if}
            </li>
          {/each}
        </ul>
      {/if}
      <p class="mark">
        <button class="btn" disabled={!mark} onclick={addWish}>Mark as a wish <Key k="M" /></button>
        <span class="soft small">Select the words that ask for one thing.</span>
      </p>
      {#each r.dates as d (d.start)}
        <p class="said"><b>“{r.letter.slice(d.start, d.end)}” cannot be.</b> {d.problem}</p>
      {/each}
    </section>
    <section class="wishes" aria-label="Wishes">
      {#if ['new', 'placed', 'in hand'].includes(r.row.state)}
        <Proposals
          request={r}
          onchange={(got, wish) => {
            asked.take(got);
            current = wish ?? current;
          }}
        />
      {/if}
      {#each r.wishes as w, i (w.id)}
        <WishCard
          wish={w}
          index={i + 1}
          row={r.row}
          open={w.id === current}
          ontoggle={() => (current = w.id === current ? undefined : w.id)}
          onchange={(got) => asked.take(got)}
          onbench={() => go(at(w))}
        />
      {:else}
        <div class="sheet none">
          <h2>No wish is marked yet</h2>
          <p class="soft">
            Select words in the letter that ask for one thing and press “Mark as a wish”. Then say where on the site it
            lands.
          </p>
        </div>
      {/each}
      <Everywhere {number} siteName={r.row.site_name} wish={current} onchanged={load} />
      {#each r.notes as n (n.change_id)}
        <p class="said look"><b>The client, round {n.round}:</b> {n.note}</p>
      {/each}
      <p class="moves">
        {#each r.moves.filter((m) => m.allowed && m.to !== r!.row.state && ['on hold', 'declined', 'in hand', 'signed off'].includes(m.to)) as m (m.to)}
          <button class="btn slim" onclick={() => move(m.to)}
            >{{ 'on hold': 'Put on hold', declined: 'Decline', 'in hand': 'Take in hand', 'signed off': 'Sign off' }[
              m.to as string
            ]}</button
          >
        {/each}
        <a class="btn slim quiet" href="/record?request={number}">Record of this request</a>
      </p>
    </section>
  </div>
{/if}

<style>
  .read {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.05fr);
    gap: var(--step-5);
    padding: var(--step-5);
    max-width: 1400px;
    margin: 0 auto;
    align-items: start;
  }
  .paper {
    padding: var(--step-5) var(--step-7);
    display: grid;
    gap: var(--step-3h);
  }
  .files {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-3h);
    border-top: 1px solid var(--hem);
    padding-top: var(--step-3h);
  }
  .files li {
    display: flex;
    gap: var(--step-2h);
    align-items: center;
  }
  .files img {
    width: 92px;
    height: 58px;
    object-fit: cover;
    border-radius: var(--radius);
  }
  .mark {
    display: flex;
    gap: var(--step-3);
    align-items: center;
    border-top: 1px solid var(--hem);
    padding-top: var(--step-3h);
  }
  .wishes {
    display: grid;
    gap: var(--step-2h);
  }
  .none {
    padding: var(--step-6);
    display: grid;
    gap: var(--step-2);
  }
  .none h2 {
    font-size: var(--size-l);
  }
  .moves {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-2);
    padding-top: var(--step-1h);
  }
</style>
