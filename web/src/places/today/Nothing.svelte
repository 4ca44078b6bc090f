<script lang="ts">
  import { Asked } from '../../api/asked.svelte';
  import { answer, api } from '../../api/client';
  import Loaded from '../../parts/Loaded.svelte';

  /** Stands where no request is open: what can be done then. A request needs a site first. */
  const sites = new Asked(() => answer(api.GET('/sites')));
  sites.again();
</script>

<Loaded of={sites} small>
  {#snippet children(all)}
    <div class="sheet">
      {#if all.length}
        <h2>Nothing to do</h2>
        <p class="soft">No letter waits. Take one in when it comes.</p>
        <p class="acts"><a class="btn go" href="/requests/new">New request</a></p>
      {:else}
        <h2>No site yet</h2>
        <p class="soft">Add the first site that you keep. Mendry reads its pages and changes nothing.</p>
        <p class="acts"><a class="btn go" href="/sites/add">Add a site</a></p>
      {/if}
    </div>
  {/snippet}
</Loaded>

<style>
  .sheet {
    padding: var(--step-7);
    display: grid;
    gap: var(--step-2h);
  }
  h2 {
    font-size: var(--size-l);
  }
  .acts {
    padding-top: var(--step-1h);
  }
</style>
