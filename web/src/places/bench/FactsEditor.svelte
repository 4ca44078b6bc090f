<script lang="ts">
  import { untrack } from 'svelte';
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
  const title = untrack(() => desk.field({ do: 'fact', name: 'title', words: '' }));
  const description = untrack(() => desk.field({ do: 'fact', name: 'description', words: '' }));
</script>

<div class="sheet facts">
  <p class="soft small">Point at a part of the page to change it.</p>
  <PageLinks {number} page={bench.page.id} {onchoose} />
  <Fold title="Page facts" look="btn slim" bind:open>
    <label class="field"
      ><span>Title</span><input
        class="box"
        value={title.now}
        oninput={(e) => title.type(e.currentTarget.value, wish)}
        onblur={() => desk.flush()}
      /><small>{title.now.length} signs; about 50 to 60 are shown whole</small></label
    >
    <label class="field"
      ><span>Description</span><textarea
        class="box"
        rows="4"
        value={description.now}
        oninput={(e) => description.type(e.currentTarget.value, wish)}
        onblur={() => desk.flush()}></textarea><small
        >{description.now.length} signs; about 150 to 160 are shown whole</small
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
