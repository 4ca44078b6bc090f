<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Schemas } from '../../api/client';
  import Frame from '../bench/Frame.svelte';
  import type { Mark } from '../bench/frame';
  import { Together } from '../bench/together';
  import Beside from './Beside.svelte';
  import WidthRule from './WidthRule.svelte';

  /** Live and draft side by side at one width; they scroll together. */
  let { page, part, look }: { page: Schemas['ProofPage']; part: string; look: Snippet } = $props();

  let width = $state(768);
  let marked = $state(true);
  let liveFrame = $state<Frame>();
  let draft = $state<Frame>();
  const together = new Together<'live' | 'draft'>();
  const marks = $derived<Mark[]>(
    marked ? page.changes.filter((c) => c.part).map((c) => ({ id: c.part, look: 'new' as const })) : [],
  );
  $effect(() => {
    if (part) draft?.send({ do: 'show', id: part });
  });

  function follow(who: 'live' | 'draft', y: number) {
    if (together.scrolled(who)) (who === 'live' ? draft : liveFrame)?.send({ do: 'scroll', scroll: y });
  }
</script>

<Beside address={page.page.address}>
  {#snippet live()}
    <Frame
      bind:this={liveFrame}
      src={page.live_url}
      title="The live page"
      {width}
      onscroll={(y) => follow('live', y)}
    />
  {/snippet}
  {#snippet after()}
    <Frame
      bind:this={draft}
      src={page.draft_url}
      title="The page after"
      {width}
      {marks}
      onscroll={(y) => follow('draft', y)}
    />
  {/snippet}
  {#snippet foot()}
    {@render look()}
    <WidthRule bind:width />
    <label class="small"><input type="checkbox" bind:checked={marked} /> mark what changes</label>
  {/snippet}
</Beside>
