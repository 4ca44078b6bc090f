<script lang="ts">
  import { untrack } from 'svelte';
  import type { EditorProps } from './editors';

  /** Where a part that is a link leads to; of one in other words also what it says, which stays a link when it is typed here. */
  let { bench, desk, part, wish }: EditorProps = $props();
  const within = $derived(
    part.kind === 'link' &&
      ['words', 'heading', 'cell'].includes(bench.parts.find((p) => p.id === part.parent)?.kind ?? ''),
  );
  let says = $state(untrack(() => desk.typed({ do: 'words', part: part.id, words: part.text }).words));
  let href = $state(
    untrack(() => desk.typed({ do: 'attribute', name: 'href', part: part.id, words: part.href }).words),
  );
  let typed = $state(''); // the field that leads; otherwise both say what is kept
  $effect(() => {
    if (typed || desk.state !== 'kept') return;
    [says, href] = [part.text, part.href];
  });
  async function leave(field: string) {
    await desk.flush();
    if (typed === field) typed = '';
  }
</script>

{#if part.href && within}
  <label class="field">
    <span>Says</span>
    <input
      class="box"
      bind:value={says}
      oninput={() => desk.type({ do: 'words', part: part.id, words: says }, wish)}
      onfocus={() => (typed = 'says')}
      onblur={() => leave('says')}
    />
  </label>
{/if}
{#if part.href}
  <label class="field">
    <span>Leads to</span>
    <input
      class="box"
      bind:value={href}
      oninput={() => desk.type({ do: 'attribute', name: 'href', part: part.id, words: href }, wish)}
      onfocus={() => (typed = 'href')}
      onblur={() => leave('href')}
    />
  </label>
{/if}
