<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import Files from '../../../look/Files.svelte';
  import { complain } from '../../../look/toast';
  import type { BenchPage } from '../desk.svelte';

  /** The captions of a film of one's own. */
  let {
    desk,
    request,
    captions = $bindable(),
  }: { desk: BenchPage; request: Schemas['Request']; captions?: number } = $props();

  const all = $derived(desk.brought.files(request).filter((a) => a.media === 'text/vtt'));
  async function add([f]: File[]) {
    if (!f) return;
    try {
      const a = await desk.brought.add(f);
      if (a.media !== 'text/vtt') throw new Error(`${f.name} holds no captions. Send a WebVTT file (.vtt).`);
      captions = a.id;
    } catch (e) {
      complain(e);
    }
  }
</script>

<label class="field">
  <span>Captions</span>
  <select class="box" value={captions ?? ''} onchange={(e) => (captions = Number(e.currentTarget.value) || undefined)}>
    <option value="">none: nothing is spoken in it</option>
    {#each all as a (a.id)}<option value={a.id}>{a.name}</option>{/each}
  </select>
</label>
<Files label="A file of captions (.vtt)" accept="files" most={1} onfiles={add} />
