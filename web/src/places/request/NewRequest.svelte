<script lang="ts">
  import Day from '../../look/Day.svelte';
  import Files from '../../look/Files.svelte';
  import { addFile, answer, api, words, type Schemas } from '../../api/client';
  import { weight } from '../../look/time';
  import { go } from '../../router';

  let sites = $state<Pick<Schemas['Site'], 'id' | 'name'>[] | undefined>();
  // A place that was found may lead here: then the request is of its site, and goes on there.
  const from = new URLSearchParams(location.search);
  let site_id = $state(Number(from.get('site')));
  const known = from.get('site') ? [{ id: Number(from.get('site')), name: 'One moment…' }] : []; // what is chosen already
  let subject = $state('');
  let letter = $state('');
  let kind = $state<Schemas['RequestKind']>('mail');
  let due_on = $state('');
  let files = $state<File[]>([]);
  let problem = $state('');
  let busy = $state(false);
  let saved = 0; // a letter that was kept before a file of it was refused

  // Which page it is about, where it was begun from one.
  let about = $state('');
  const page = Number(from.get('page'));
  if (page)
    answer(api.GET('/sites/{site}', { params: { path: { site: Number(from.get('site')) } } })).then(
      (v) => (about = v.pages.find((p) => p.id === page)?.address ?? ''),
      () => {}, // it is said on the bench
    );

  answer(api.GET('/sites')).then(
    (s) => {
      sites = s.filter((x) => x.state === 'ready');
      if (sites.length === 1) site_id = sites[0]!.id;
    },
    (e) => (problem = words(e)),
  );

  async function send(e: Event) {
    e.preventDefault();
    busy = true;
    problem = '';
    try {
      if (!saved) {
        const body = { site_id, subject, letter, kind, due_on: due_on || undefined };
        saved = (await answer(api.POST('/requests', { body }))).row.number;
      }
      while (files.length > 0) {
        await addFile(saved, files[0]!);
        files = files.slice(1);
      }
      const [at, part] = [from.get('page'), from.get('part')];
      go(at ? `/requests/${saved}/bench/${at}${part ? `?part=${part}` : ''}` : `/requests/${saved}`);
    } catch (e) {
      problem = words(e) + (saved ? ' The letter is kept; take the file out or choose another, and send again.' : '');
    } finally {
      busy = false;
    }
  }
</script>

<svelte:head><title>New request · Mendry</title></svelte:head>
<form class="page" onsubmit={send}>
  <h1>
    New request{#if about}<span class="soft about">about {about}</span>{/if}
  </h1>
  <div class="cols">
    <div class="sheet pad">
      <label class="field"
        ><span>What the client wrote or said</span><textarea
          class="box letter"
          bind:value={letter}
          required
          maxlength="20000"
          rows="14"></textarea></label
      >
      <label class="field"
        ><span>Subject</span><input
          class="box"
          bind:value={subject}
          maxlength="300"
          placeholder="the first line, if left empty"
        /></label
      >
    </div>
    <div class="sheet pad">
      <label class="field"
        ><span>Site</span><select class="box" bind:value={site_id} required
          ><option value={0} disabled>choose</option>{#each sites ?? known as s (s.id)}<option value={s.id}
              >{s.name}</option
            >{/each}</select
        ></label
      >
      {#if sites?.length === 0}
        <p class="said look small">
          No site has been taken in yet. <a href="/sites/add">Add the site</a> that this is about first.
        </p>
      {/if}
      <label class="field"
        ><span>How it came</span><select class="box" bind:value={kind}
          ><option value="mail">by mail</option><option value="call">in a call</option></select
        ></label
      >
      <Day label="Due on" bind:value={due_on} />
      <Files
        label="Pictures and files that came with it"
        accept="files"
        onfiles={(more) => (files = [...files, ...more])}
      />
      <ul>
        {#each files as f, i (f)}
          <li class="small">
            {f.name}, {weight(f.size)}
            <button class="btn slim quiet" type="button" onclick={() => (files = files.filter((_, k) => k !== i))}
              >take out</button
            >
          </li>
        {/each}
      </ul>
    </div>
  </div>
  {#if problem}<p class="said" role="alert">{problem}</p>{/if}
  <p class="acts">
    <button class="btn go" disabled={busy || !site_id}>{busy ? 'Keeping…' : 'Keep and read it'}</button>
    <a class="btn quiet" href="/">Not now</a>
  </p>
</form>

<style>
  form {
    max-width: 1040px;
    margin: 0 auto;
    display: grid;
    gap: var(--step-4);
  }
  .about {
    font-size: var(--size-l);
    margin-left: var(--step-3h);
  }
  .cols {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 340px;
    gap: var(--step-4);
    align-items: start;
  }
  .pad {
    padding: var(--step-4);
    display: grid;
    gap: var(--step-3h);
  }
  .letter {
    font-size: var(--size-l);
  }
  .acts {
    display: flex;
    gap: var(--step-2h);
  }
</style>
