<script lang="ts">
  import { onDestroy, untrack } from 'svelte';
  import { answer, api, type Schemas, words } from '../../../api/client';
  import Files from '../../../look/Files.svelte';
  import Segments from '../../../look/Segments.svelte';
  import { complain } from '../../../look/toast';
  import type { Act, BenchPage } from '../desk.svelte';
  import Captions from './Captions.svelte';
  import Cover from './Cover.svelte';
  import Own from './Own.svelte';

  /** A film or a sound that is put below the part, or one that was put in and is made otherwise. */
  let {
    desk,
    request,
    part,
    was,
    act,
    onleave,
  }: {
    desk: BenchPage;
    request: Schemas['Request'];
    part: Schemas['Part'];
    was?: Schemas['PutVideoAct'];
    act: (f: Act) => void;
    onleave: () => void;
  } = $props();

  const first = untrack(() => was);
  let from = $state<'file' | 'address'>(first?.address ? 'address' : 'file');
  let file = $state(first?.attachment_id);
  let address = $state(first?.address ?? '');
  let title = $state(first?.title ?? '');
  let cover = $state.raw<Schemas['PicturePick'] | undefined>(first?.cover);
  let captions = $state(first?.captions_id);
  let told = $state.raw<Schemas['VideoTold'] | undefined>();
  let problem = $state('');
  let asking = $state(false);

  const films = $derived(desk.brought.files(request).filter((a) => /^(video|audio)\//.test(a.media)));
  const own = $derived(films.find((a) => a.id === file));
  const sound = $derived(from === 'file' ? !!own?.media.startsWith('audio/') : told?.kind === 'sound');
  const missing = $derived(
    from === 'file' && !own
      ? 'No film is chosen yet.'
      : from === 'address' && !told
        ? 'The address is not tried yet.'
        : !title.trim()
          ? 'It has no title yet.'
          : !sound && !cover
            ? 'It has no cover yet.'
            : '',
  );

  let timer: ReturnType<typeof setTimeout> | undefined;
  let asked = 0;
  onDestroy(() => clearTimeout(timer));
  function typed(wait = 600) {
    told = undefined;
    problem = '';
    const mine = ++asked;
    clearTimeout(timer);
    asking = /^https?:\/\/./i.test(address.trim());
    if (!asking) return;
    timer = setTimeout(async () => {
      try {
        const got = await answer(api.POST('/videos/try', { body: { address: address.trim() } }));
        if (mine !== asked) return;
        told = got;
        title ||= got.title;
      } catch (e) {
        if (mine === asked) problem = words(e);
      } finally {
        if (mine === asked) asking = false;
      }
    }, wait);
  }
  if (untrack(() => address)) typed(0);

  async function put() {
    try {
      await desk.flush();
      act({
        do: 'put-video',
        part: part.id,
        ...(first ? {} : { where: 'after' as const }),
        ...(from === 'file' ? { attachment_id: file } : { address: address.trim() }),
        ...(sound || !cover ? {} : { cover }),
        ...(from === 'file' && !sound && captions ? { captions_id: captions } : {}),
        title: title.trim(),
      });
      onleave();
    } catch (e) {
      complain(e);
    }
  }
  async function add([f]: File[]) {
    if (!f) return;
    try {
      const a = await desk.brought.add(f);
      if (/^(video|audio)\//.test(a.media)) file = a.id;
      else throw new Error(`${f.name} is neither a film nor a sound that a browser plays. Send an MP4, WebM or MP3.`);
    } catch (e) {
      complain(e);
    }
  }
</script>

<section aria-label={first ? 'The film' : 'A film or sound below'}>
  <Segments
    label="Where it plays from"
    choices={[
      { value: 'file', label: 'a file' },
      { value: 'address', label: 'an address' },
    ]}
    bind:value={from}
  />
  {#if from === 'file'}
    {#each films as a (a.id)}
      <button class="btn slim" aria-pressed={a.id === file} onclick={() => (file = a.id)}>{a.name}</button>
    {/each}
    <Files label="Film or sound" accept="files" most={1} onfiles={add} />
    {#if own}<Own file={own} {desk} oncover={(attachment_id) => (cover = { attachment_id })} />{/if}
  {:else}
    <label class="field">
      <span>Address</span>
      <input class="box" type="url" bind:value={address} oninput={() => typed()} placeholder="https://…" />
    </label>
    {#if asking}<p class="small soft" role="status">The address is being tried…</p>{/if}
    {#if told}<p class="said fine small" role="status">{told.say}</p>{/if}
    {#if problem}<p class="said small" role="alert">{problem}</p>{/if}
  {/if}
  <label class="field">
    <span>Title</span>
    <input class="box" bind:value={title} maxlength="200" />
    <small>stands below it, and is read to who cannot see it</small>
  </label>
  {#if !sound}
    <Cover {desk} {request} {cover} onpick={(c) => (cover = c)} />
    {#if from === 'file'}<Captions {desk} {request} bind:captions />{/if}
  {/if}
  <p class="acts">
    <button class="btn slim go" disabled={!!missing} onclick={put}>{first ? 'Take it so' : 'Put it in'}</button>
    <button class="btn slim quiet" onclick={onleave}>Leave it</button>
    {#if missing}<span class="small soft">{missing}</span>{/if}
  </p>
</section>

<style>
  section {
    display: grid;
    gap: var(--step-2);
    border: 1px dashed var(--hem-strong);
    border-radius: var(--radius);
    padding: var(--step-2);
    min-width: 0;
  }
  section > .btn {
    justify-self: start;
    max-width: 100%;
    overflow-wrap: anywhere;
  }
  .btn[aria-pressed='true'] {
    border-color: var(--indigo);
    background: var(--indigo-wash);
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-1h);
    align-items: center;
  }
</style>
