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
    font-size: 17px;
    padding: 13px 16px 8px;
  }
  .none {
    padding: 0 16px 14px;
  }
  a {
    border-top: 1px solid var(--hem);
    padding: 8px 16px;
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 10px;
    font-size: 14px;
    color: inherit;
    text-decoration: none;
  }
  a:hover {
    background: var(--indigo-wash);
  }
</style>
