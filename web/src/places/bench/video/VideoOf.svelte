<script lang="ts">
  import type { EditorProps } from '../editors';
  import PutVideo from './PutVideo.svelte';

  /** A film, sound or frame on the page: what it is, and made otherwise where this request put it in. */
  let { bench, desk, request, part, act }: EditorProps = $props();

  let open = $state(false);
  const film = $derived.by(() => {
    for (let p: typeof part | undefined = part; p; p = bench.parts.find((q) => q.id === p!.parent)) {
      const c = bench.changes.find((c) => c.id === p!.change_id && c.state === 'kept');
      if (c?.film) return c.film;
    }
    return undefined;
  });
</script>

{#if film}
  {#if open}
    <PutVideo {desk} {request} {part} was={film} {act} onleave={() => (open = false)} />
  {:else}
    <p><button class="btn slim" onclick={() => (open = true)}>Make it otherwise</button></p>
  {/if}
{:else}
  <p class="small soft">
    A film that stands here already can be moved, copied and taken out. To show another one, put that in and take this
    one out.
  </p>
{/if}
