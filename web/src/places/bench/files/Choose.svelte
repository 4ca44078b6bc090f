<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import Files from '../../../look/Files.svelte';
  import { weight } from '../../../look/time';
  import { complain } from '../../../look/toast';
  import type { BenchPage } from '../desk.svelte';

  /** A file to download, of the request or of this machine. */
  let {
    desk,
    request,
    label,
    disabled = false,
    ontake,
    onleave,
  }: {
    desk: BenchPage;
    request: Schemas['Request'];
    label: string;
    disabled?: boolean;
    ontake: (attachment: number) => void;
    onleave: () => void;
  } = $props();

  let coming = $state(false);
  async function add([f]: File[]) {
    if (!f) return;
    coming = true;
    try {
      const a = await desk.brought.add(f);
      if (a.width || a.media.startsWith('image/')) throw new Error('This is a picture. Put it on the page as one.');
      ontake(a.id);
    } catch (e) {
      complain(e);
    } finally {
      coming = false;
    }
  }
</script>

<div>
  <b class="small">{label}</b>
  {#each desk.brought.files(request) as a (a.id)}
    <button class="btn slim" {disabled} onclick={() => ontake(a.id)}>{a.name}, {weight(a.size)}</button>
  {/each}
  <Files label="From this machine" accept="files" most={1} disabled={coming || disabled} onfiles={add} />
  {#if coming}<p class="small soft" role="status">It is on its way…</p>{/if}
  <button class="btn slim quiet" onclick={onleave}>Leave it</button>
</div>

<style>
  div {
    display: grid;
    gap: var(--step-1h);
    justify-items: start;
  }
  .btn {
    max-width: 100%;
    overflow-wrap: anywhere;
    text-align: left;
  }
</style>
