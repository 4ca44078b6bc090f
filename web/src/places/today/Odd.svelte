<script lang="ts">
  import type { Schemas } from '../../api/client';

  let { items }: { items: Schemas['Odd'][] } = $props();
  const to = (o: Schemas['Odd']) => (o.number ? `/requests/${o.number}/release` : `/sites/${o.site_id}`);
</script>

<section class="sheet">
  <h2>Not as we left it</h2>
  {#if items.length === 0}
    <p class="soft small none">Every page is as Mendry last saw it.</p>
  {:else}
    <ul>
      {#each items as o, i (i)}
        <li><a href={to(o)}><span><b>{o.site_name}</b> {o.say}</span><span class="is-{o.level}">{o.mark}</span></a></li>
      {/each}
    </ul>
  {/if}
</section>

<style>
  h2 {
    font-size: var(--size-l);
    padding: var(--step-3h) var(--step-4) var(--step-2);
  }
  .none {
    padding: 0 var(--step-4) var(--step-3h);
  }
  a {
    border-top: 1px solid var(--hem);
    padding: var(--step-2) var(--step-4);
    display: grid;
    grid-template-columns: 1fr auto;
    gap: var(--step-2h);
    font-size: var(--size-m);
    color: inherit;
    text-decoration: none;
  }
  a:hover {
    background: var(--indigo-wash);
  }
</style>
