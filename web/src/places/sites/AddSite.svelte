<script lang="ts">
  import { answer, api, words, type Schemas } from '../../api/client';
  import { here } from '../../look/time';
  import { go } from '../../router';
  import HostFields from './HostFields.svelte';

  let clients = $state<Schemas['Client'][]>([]);
  answer(api.GET('/clients')).then(
    (c) => (clients = c),
    () => {},
  );
  const zones = Intl.supportedValuesOf('timeZone');
  const own = here();
  let f = $state({
    name: '',
    client_id: 0,
    client_name: '',
    contact_name: '',
    contact_mail: '',
    may_clear: false,
    host_kind: 'webdav' as Schemas['HostKind'],
    host_url: '',
    host_key: '',
    public_url: '',
    host_user: '',
    host_password: '',
    zone: zones.includes(own) ? own : 'Europe/London',
  });
  let test = $state<Schemas['SiteTest'] | undefined>();
  let busy = $state('');
  let problem = $state('');
  const body = () => ({ ...f, client_id: f.client_id || undefined, host_key: f.host_key || undefined });

  async function run(what: string, act: () => Promise<void>) {
    busy = what;
    problem = '';
    try {
      await act();
    } catch (e) {
      problem = words(e);
    } finally {
      busy = '';
    }
  }
  const tryIt = () => run('test', async () => void (test = await answer(api.POST('/site-test', { body: body() }))));
  const add = (e: Event) => {
    e.preventDefault();
    run('add', async () => void go(`/sites/${(await answer(api.POST('/sites', { body: body() }))).id}`));
  };
</script>

<svelte:head><title>Add a site · Mendry</title></svelte:head>
<form class="page" onsubmit={add}>
  <h1>Add a site</h1>
  <div class="cols">
    <fieldset class="sheet">
      <legend>The site</legend>
      <label class="field"><span>Name</span><input class="box" bind:value={f.name} required maxlength="190" /></label>
      <label class="field"
        ><span>Public address</span><input
          class="box"
          type="url"
          bind:value={f.public_url}
          required
          placeholder="https://www.example.org/"
        /><small>where visitors see it</small></label
      >
      <label class="field"
        ><span>Clock</span><select class="box" bind:value={f.zone}
          >{#each zones as z (z)}<option>{z}</option>{/each}</select
        ></label
      >
    </fieldset>
    <fieldset class="sheet">
      <legend>Its host</legend>
      <HostFields
        bind:kind={f.host_kind}
        bind:url={f.host_url}
        bind:user={f.host_user}
        bind:password={f.host_password}
        bind:key={f.host_key}
      />
    </fieldset>
    <fieldset class="sheet">
      <legend>The client</legend>
      <label class="field"
        ><span>Client</span><select class="box" bind:value={f.client_id}
          ><option value={0}>a new client</option>{#each clients as c (c.id)}<option value={c.id}>{c.name}</option
            >{/each}</select
        ></label
      >
      {#if !f.client_id}
        <label class="field"><span>Client’s name</span><input class="box" bind:value={f.client_name} /></label>
        <label class="field"><span>Who answers there</span><input class="box" bind:value={f.contact_name} /></label>
        <label class="field"
          ><span>Mail address</span><input class="box" type="email" bind:value={f.contact_mail} /></label
        >
        <label class="tick"
          ><input type="checkbox" bind:checked={f.may_clear} /> We may clear changes ourselves, by the client’s terms</label
        >
      {/if}
    </fieldset>
  </div>
  {#if test}
    <p class="said" class:fine={test.host.good} role="status"><b>Host</b> {test.host.say}</p>
    <p class="said" class:fine={test.public.good} role="status"><b>Public address</b> {test.public.say}</p>
  {/if}
  {#if problem}<p class="said" role="alert">{problem}</p>{/if}
  <p class="acts">
    <button class="btn" type="button" onclick={tryIt} disabled={!!busy}
      >{busy === 'test' ? 'Trying…' : 'Try both addresses'}</button
    >
    <button class="btn go" disabled={!!busy}>{busy === 'add' ? 'Adding…' : 'Add and take in the pages'}</button>
    <a class="btn quiet" href="/sites">Not now</a>
    <span class="soft small"
      >{{
        hand: 'Mendry reads what visitors get, and writes nothing.',
        git: 'To try, Mendry asks whether it may push, and pushes nothing.',
      }[f.host_kind as string] ??
        'To try, Mendry writes into a folder of its own and takes it away again. No page is touched.'}</span
    >
  </p>
</form>

<style>
  form {
    max-width: 1240px;
    margin: 0 auto;
    display: grid;
    gap: var(--step-4);
  }
  .cols {
    display: grid;
    grid-template-columns: repeat(3, minmax(0, 1fr));
    gap: var(--step-4);
    align-items: start;
  }
  fieldset {
    padding: var(--step-2) var(--step-4) var(--step-4);
    display: grid;
    gap: var(--step-3);
  }
  legend {
    font: 650 var(--size-l) var(--display);
    padding: var(--step-2) 0 0;
    float: left;
    width: 100%;
  }
  .tick {
    display: flex;
    gap: var(--step-2);
    align-items: baseline;
  }
  .acts {
    display: flex;
    gap: var(--step-2h);
    align-items: center;
  }
</style>
