<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Schemas } from '../../api/client';
  import Seam from '../../parts/Seam.svelte';
  import Frame from '../bench/Frame.svelte';
  import type { Mark } from '../bench/frame';
  import { Together } from '../bench/together';
  import WidthRule from './WidthRule.svelte';

  /** Live and draft side by side at one width; they scroll together. */
  let { page, part, look }: { page: Schemas['ProofPage']; part: string; look: Snippet } = $props();

  let width = $state(768);
  let marked = $state(true);
  let live = $state<Frame>();
  let draft = $state<Frame>();
  const together = new Together<'live' | 'draft'>();
  const marks = $derived<Mark[]>(
    marked ? page.changes.filter((c) => c.part).map((c) => ({ id: c.part, look: 'new' as const })) : [],
  );
  $effect(() => {
    if (part) draft?.send({ do: 'show', id: part });
  });

  function follow(who: 'live' | 'draft', y: number) {
    if (together.scrolled(who)) (who === 'live' ? draft : live)?.send({ do: 'scroll', scroll: y });
  }
</script>

<div class="pair">
  <section aria-label="Live now">
    <h2>Live now <span class="mono soft">{page.page.address}</span></h2>
    <div class="pane">
      <Frame bind:this={live} src={page.live_url} title="The live page" {width} onscroll={(y) => follow('live', y)} />
    </div>
  </section>
  <section aria-label="After">
    <h2>After <Seam state="kept">kept, not live</Seam></h2>
    <div class="pane after">
      <Frame
        bind:this={draft}
        src={page.draft_url}
        title="The page after"
        {width}
        {marks}
        onscroll={(y) => follow('draft', y)}
      />
    </div>
  </section>
</div>
<div class="foot">
  {@render look()}
  <WidthRule bind:width />
  <label class="small"><input type="checkbox" bind:checked={marked} /> mark what changes</label>
</div>

<style>
  .pair {
    flex: 1;
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: var(--step-3h);
    min-height: 0;
  }
  section {
    display: flex;
    flex-direction: column;
    min-height: 0;
  }
  h2 {
    font-size: var(--size);
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    padding-bottom: var(--step-1h);
  }
  h2 .mono {
    font-weight: 400;
  }
  .pane {
    flex: 1;
    min-height: 0;
    border: 1px solid var(--hem-strong);
  }
  .after {
    border: 2px dashed var(--weld);
  }
  .foot {
    display: flex;
    gap: var(--step-5);
    align-items: center;
    padding: var(--step-half) 0 var(--step-3);
  }
</style>
