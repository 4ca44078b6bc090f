<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import { Doing } from '../../../look/doing.svelte';
  import type { BenchPage } from '../desk.svelte';

  /** A film or sound of one's own, to be looked at; a moment of a film can be taken as its cover. */
  let { file, desk, oncover }: { file: Schemas['Attachment']; desk: BenchPage; oncover: (attachment: number) => void } =
    $props();

  let film = $state<HTMLVideoElement>();
  const doing = new Doing();
  let seen = $state(false);
  const src = $derived(`/api/attachments/${file.id}`);

  async function take() {
    const of = film;
    if (!of) return;
    await doing.run(async () => {
      const canvas = document.createElement('canvas');
      [canvas.width, canvas.height] = [of.videoWidth, of.videoHeight];
      canvas.getContext('2d')!.drawImage(of, 0, 0);
      const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/jpeg', 0.92));
      if (!blob) throw new Error('This moment cannot be taken. Play the film a little, and try again.');
      const name = file.name.replace(/\.\w+$/, '') + '-cover.jpg';
      oncover((await desk.brought.add(new File([blob], name, { type: 'image/jpeg' }))).id);
    });
  }
</script>

{#if file.media.startsWith('audio/')}
  <audio controls preload="metadata" {src}></audio>
{:else}
  <video controls preload="auto" muted {src} bind:this={film} onloadeddata={() => (seen = true)}></video>
  <button class="btn slim" disabled={doing.busy || !seen} onclick={take}>Take this moment as the cover</button>
{/if}

<style>
  video,
  audio {
    width: 100%;
    max-height: 180px;
    background: var(--ink);
  }
  audio {
    background: none;
  }
  .btn {
    justify-self: start;
  }
</style>
