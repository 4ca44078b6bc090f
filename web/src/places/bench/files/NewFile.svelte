<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import type { Act, BenchPage } from '../desk.svelte';
  import Choose from './Choose.svelte';

  /** A new file to download, with a link to it below the part. */
  let {
    desk,
    request,
    part,
    act,
    onleave,
  }: {
    desk: BenchPage;
    request: Schemas['Request'];
    part: Schemas['Part'];
    act: (f: Act) => void;
    onleave: () => void;
  } = $props();

  let says = $state('');
  const focus = (el: HTMLElement) => el.focus({ preventScroll: true });
</script>

<section aria-label="A file below">
  <label class="field">
    <span>What the link says</span>
    <input class="box" bind:value={says} maxlength="200" placeholder="Price list 2027" use:focus />
    <small>its kind and weight are added as the page’s other files have them</small>
  </label>
  <Choose
    {desk}
    {request}
    label="The file"
    disabled={!says.trim()}
    ontake={(attachment_id) => {
      onleave();
      act({ do: 'download', part: part.id, where: 'after', attachment_id, words: says.trim() });
    }}
    {onleave}
  />
</section>

<style>
  section {
    display: grid;
    gap: var(--step-2);
    border: 1px dashed var(--hem-strong);
    border-radius: var(--radius);
    padding: var(--step-2);
  }
</style>
