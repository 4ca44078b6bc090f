<script lang="ts">
  import { publicAddress } from '../../look/address';
  import Moving from '../../look/Moving.svelte';
  import type { Schemas } from '../../api/client';
  import { momentWords } from '../../look/time';
  import Seam from '../../parts/Seam.svelte';
  import { inTheWay } from './inTheWay';
  import Theirs from '../../parts/Theirs.svelte';

  let {
    release: r,
    publicUrl,
    zone,
    busy,
    onact,
  }: {
    release: Schemas['Release'];
    publicUrl: string;
    zone?: string;
    busy: boolean;
    onact: (act: Schemas['ReleaseAct']) => void;
  } = $props();

  const says: Record<Schemas['ReleaseAct'], { say: string; look: string; more: string }> = {
    'go-on': { say: 'Go on with the rest', look: 'go', more: 'after looking at every file again' },
    'put-right': {
      say: 'Keep their edit and put the rest back',
      look: '',
      more: 'their version of the page, without what this release had changed',
    },
    'take-back': { say: 'Undo this release', look: '', more: 'every file of it is put back' },
    leave: { say: 'Leave it as it is', look: 'quiet', more: 'what is written stays, the rest is kept as before' },
    look: { say: 'Look again now', look: 'quiet', more: 'at the host and as visitors get it' },
  };
  const acts = $derived(r.acts.filter((a) => a !== 'look' || r.state === 'live'));
  const written = $derived(r.steps.filter((s) => s.state === 'written').length);
  const title = $derived(!r.undoes ? 'Release' : r.state === 'sure' || r.state === 'live' ? 'Taken back' : 'Undo');
  const step = (s: Schemas['ReleaseStep']) =>
    r.state !== 'stopped'
      ? s.state
      : s.state === 'writing'
        ? 'stopped here'
        : s.state === 'waiting'
          ? 'not yet'
          : s.state;
  const host = (s: Schemas['ReleaseStep']) =>
    ({ right: 'right at the host', wrong: 'not right at the host', later: 'written again later', '': '' })[s.host_seen];
  const visitors = (s: Schemas['ReleaseStep']) =>
    ({
      right: 'visitors see it',
      old: 'visitors still get the old one',
      wrong: 'not what visitors get',
      later: '',
      '': '',
    })[s.public_seen];
</script>

<section class="sheet" aria-label="{title}, {momentWords(r.made_at, zone)}">
  <header>
    <h2>{title}</h2>
    <span class="soft small">{momentWords(r.made_at, zone)}, {r.made_by}</span>
    <span class="state">
      {#if r.state === 'sure'}<Seam state="sure"
          >{r.undoes ? 'back, and seen to be right' : 'live, and seen to be right'}</Seam
        >
      {:else if r.state === 'live'}<Seam state="live"
          >{r.undoes ? 'put back, being looked at' : 'live, being looked at'}</Seam
        >
      {:else if r.state === 'left'}<Seam state="soft">left: nothing of it was written</Seam>
      {:else if r.state === 'by hand'}<Seam state="kept">by hand, being put back</Seam>
      {:else if r.state === 'taken back'}<Seam state="soft">taken back</Seam>
      {:else if r.state === 'stopped'}<Seam state="stop">stopped: {written} of {r.steps.length} files written</Seam>
      {:else}<Seam state="kept">writing: {written} of {r.steps.length}</Seam>{/if}
    </span>
  </header>
  {#if r.state === 'waiting' || r.state === 'running'}
    <p class="small way" role="status">
      You can leave; it goes on. <Moving label="How far it has come" done={written} of={r.steps.length} />
    </p>
  {/if}
  {#if r.said}
    {#if r.state === 'left' || r.state === 'live'}<p class="small soft way" role="status">{r.said}</p>
    {:else}<p class="said way" role="alert">{r.said}</p>{/if}
  {/if}
  <ul>
    {#each r.steps as s (s.id)}
      <li>
        <span class="mono"
          >{#if s.kind === 'page' && s.address}<a
              href={publicAddress(publicUrl, s.address)}
              target="_blank"
              rel="noopener">{s.address}</a
            >{:else}/{s.path}{/if}</span
        >
        <span class="small soft">{s.kind === 'remove' ? 'picture, taken away' : s.kind}</span>
        <span
          class="small"
          class:is-live={s.state === 'written'}
          class:is-stop={s.state === 'failed'}
          class:is-kept={s.state === 'writing' || s.state === 'waiting'}>{step(s)}</span
        >
        <span class="small" class:is-live={s.host_seen === 'right'} class:is-stop={s.host_seen === 'wrong'}
          >{host(s)}</span
        >
        <span
          class="small"
          class:is-live={s.public_seen === 'right'}
          class:is-look={s.public_seen === 'old'}
          class:is-stop={s.public_seen === 'wrong'}>{s.kind === 'remove' ? '' : visitors(s)}</span
        >
        {#if s.said}<p class="small why">{s.said}</p>{/if}
        {#if s.theirs.length}
          <div class="why small">
            <b>What they changed</b>
            <Theirs differences={s.theirs} />
          </div>
        {/if}
      </li>
    {/each}
  </ul>
  {#if acts.length}
    <p class="acts">
      {#each acts as a (a)}
        <button class={['btn', says[a].look]} title={says[a].more} disabled={busy} onclick={() => onact(a)}
          >{a === 'leave' && inTheWay(r) ? 'Leave it and look at the proof' : says[a].say}</button
        >
      {/each}
    </p>
  {/if}
</section>

<style>
  header {
    display: flex;
    gap: var(--step-3);
    align-items: baseline;
    padding: var(--step-3h) var(--step-4) var(--step-2h);
  }
  h2 {
    font-size: var(--size-l);
  }
  .state {
    margin-left: auto;
  }
  .way {
    margin: 0 var(--step-4) var(--step-3);
  }
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 130px 80px 140px 210px;
    gap: var(--step-3);
    padding: var(--step-2) var(--step-4);
    border-top: 1px solid var(--hem);
    align-items: baseline;
  }
  .mono {
    overflow-wrap: anywhere;
  }
  .why {
    grid-column: 1 / -1;
    color: var(--ink-soft);
  }
  .acts {
    display: flex;
    gap: var(--step-2h);
    padding: var(--step-3) var(--step-4);
    border-top: 1px solid var(--hem);
  }
</style>
