<script lang="ts">
  import { untrack } from 'svelte';
  import { Doing } from '../../look/doing.svelte';
  import { Asked } from '../../api/asked.svelte';
  import { answer, api, words, type Schemas } from '../../api/client';
  import { refresh, zoneOf } from '../../api/session.svelte';
  import { say } from '../../look/toast';
  import Loaded from '../../parts/Loaded.svelte';
  import Ask from '../../parts/Ask.svelte';
  import { go, route } from '../../router';
  import Top from '../request/Top.svelte';
  import ByHand from './ByHand.svelte';
  import Publish from './Publish.svelte';
  import ReleaseSheet from './ReleaseSheet.svelte';
  import { inTheWay } from './inTheWay';

  const number = $derived(Number(route.params.number));
  const asked = new Asked(async () => {
    const at = { params: { path: { number } } };
    const [proof, releases] = await Promise.all([
      answer(api.GET('/requests/{number}/proof', at)),
      answer(api.GET('/requests/{number}/releases', at)),
    ]);
    refresh();
    return { proof, releases };
  });
  const proof = $derived(asked.got?.proof);
  const releases = $derived(asked.got?.releases ?? []);
  let taking = $state<Schemas['Release'] | undefined>();
  let askTake = $state(false);
  const doing = new Doing();

  const moving = $derived(
    releases.filter((r) => ['waiting', 'running', 'live'].includes(r.state) || (r.state === 'by hand' && r.look_at)),
  );

  /** Asks how far the releases have come that Mendry works on, and loads all of it only where something has changed. */
  async function watch() {
    if (moving.some((r) => r.state === 'by hand')) return asked.again();
    for (const r of moving) {
      const written = r.steps.filter((s) => s.state === 'written').length;
      const seen = r.steps.filter((s) => ['right', 'later'].includes(s.public_seen)).length;
      try {
        const now = await answer(api.GET('/releases/{release}', { params: { path: { release: r.id } } }));
        if (now.state !== r.state || now.written !== written || now.seen !== seen) return asked.again();
      } catch (e) {
        asked.problem = words(e);
      }
    }
  }
  $effect(() => {
    untrack(() => asked.again());
    let timer = setTimeout(async function again() {
      await watch();
      timer = setTimeout(again, 1000);
    }, 1000);
    return () => clearTimeout(timer);
  });

  const run = (act: () => Promise<unknown>) =>
    doing.run(async () => {
      await act();
      await asked.again();
    });
  const steer = (r: Schemas['Release'], act: Schemas['ReleaseAct']) =>
    run(async () => {
      await answer(api.POST('/releases/{release}/{act}', { params: { path: { release: r.id, act } } }));
      if (act === 'leave' && inTheWay(r)) go(`/requests/${number}/proof`); // it says what to do about their edit
    });
  const undoing = (r: Schemas['Release']) => releases.some((o) => o.undoes === r.id && o.state === 'by hand');
  function steerOrAsk(r: Schemas['Release'], act: Schemas['ReleaseAct']) {
    if (act !== 'take-back') return void steer(r, act);
    taking = r;
    askTake = true;
  }
  const signOff = () =>
    run(async () => {
      await answer(api.POST('/requests/{number}/state', { params: { path: { number } }, body: { to: 'signed off' } }));
      say('Signed off. The record is closed under the client’s signature.');
    });
</script>

<svelte:head><title>Release · Mendry</title></svelte:head>
<Loaded of={asked} />
{#if proof}
  <Top row={proof.row} page={proof.pages[0]?.page.id}>
    {#if proof.row.state === 'live'}<button class="btn go" disabled={doing.busy} onclick={signOff}>Sign off</button
      >{/if}
    <a class="btn" href="/record?request={number}">Record</a>
  </Top>
  <div class="page wrap">
    {#if proof.pages.length > 0}<Publish {proof} busy={doing.busy} {run} />{/if}
    {#each releases as r (r.id)}
      {@const of = { release: r, publicUrl: proof.row.public_url, zone: zoneOf(proof.row.site_id), busy: doing.busy }}
      {@const onact = (act: Schemas['ReleaseAct']) => steerOrAsk(r, act)}
      {#if r.state === 'by hand' && !undoing(r)}
        <ByHand {...of} mail={proof.contact_mail} subject={proof.row.subject} {run} {onact} />
      {:else}<ReleaseSheet {...of} {onact} />{/if}
    {:else}
      {#if proof.pages.length === 0}<p class="soft">Nothing was published for this request yet.</p>{/if}
    {/each}
  </div>
  <Ask bind:open={askTake} title="Take it back?" act="Take it back" onact={() => taking && steer(taking, 'take-back')}>
    {#if taking?.by_hand}
      The list is turned round: it says what stood there before, for you to put in again. Mendry looks at the live page
      after you.
    {:else}
      Every file of this release is put back to exactly what it was before. A page that somebody else has changed since
      is left alone, and you are told.
    {/if}
  </Ask>
{/if}

<style>
  .wrap {
    max-width: 1080px;
    margin: 0 auto;
    display: grid;
    gap: var(--step-4);
  }
</style>
