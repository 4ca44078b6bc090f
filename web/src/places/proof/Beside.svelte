<script lang="ts">
  import type { Snippet } from 'svelte';
  import Seam from '../../parts/Seam.svelte';

  /** Live and after, side by side, and what is chosen below them. */
  let {
    address,
    as = '',
    live,
    after,
    foot,
  }: { address: string; as?: string; live: Snippet; after: Snippet; foot: Snippet } = $props();
</script>

<div class="pair">
  <section aria-label="Live now{as}">
    <h2>Live now <span class="mono soft">{address}</span></h2>
    <div class="pane">{@render live()}</div>
  </section>
  <section aria-label="After{as}">
    <h2>After <Seam state="kept">kept, not live</Seam></h2>
    <div class="pane after">{@render after()}</div>
  </section>
</div>
<div class="foot">{@render foot()}</div>

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
