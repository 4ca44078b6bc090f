<script lang="ts">
  import type { Schemas } from '../../api/client';
  import type { BenchPage } from './desk.svelte';
  import Fold from '../../look/Fold.svelte';
  import PageLinks from './PageLinks.svelte';

  let {
    number,
    bench,
    desk,
    wish,
    onchoose,
  }: {
    number: number;
    bench: Schemas['Bench'];
    desk: BenchPage;
    wish?: number;
    onchoose: (part: string) => void;
  } = $props();
  let open = $state(false);
  let title = $state('');
  let description = $state('');
  $effect(() => {
    if (open) return;
    const last = (name: 'title' | 'description') => desk.typed({ do: 'fact', name, words: bench.facts[name] }).words;
    [title, description] = [last('title'), last('description')];
  });
  const keep = (name: 'title' | 'description', words: string) => desk.type({ do: 'fact', name, words }, wish);
</script>

<div class="sheet facts">
  <p class="soft small">Point at a part of the page to change it.</p>
  <PageLinks {number} page={bench.page.id} {onchoose} />
  <Fold title="Page facts" look="btn slim" bind:open>
    <label class="field"
      ><span>Title</span><input
        class="box"
        bind:value={title}
        oninput={() => keep('title', title)}
        onblur={() => desk.flush()}
      /><small>{title.length} signs</small></label
    >
    <label class="field"
      ><span>Description</span><textarea
        class="box"
        rows="4"
        bind:value={description}
        oninput={() => keep('description', description)}
        onblur={() => desk.flush()}></textarea><small
        >{description.length} signs; about 150 to 160 are shown whole</small
      ></label
    >
  </Fold>
  <button class="btn slim" onclick={() => (desk.looksBack = true)}>Earlier versions</button>
</div>

<style>
  .facts {
    padding: var(--step-3) var(--step-3h);
    display: grid;
    gap: var(--step-2h);
    justify-items: start;
  }
  .field {
    width: 100%;
  }
</style>
