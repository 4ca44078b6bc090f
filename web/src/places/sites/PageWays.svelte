<script lang="ts">
  import { Menu, Portal } from '@skeletonlabs/skeleton-svelte';
  import type { Schemas } from '../../api/client';
  import { contents } from '../../look/contents';
  import { go } from '../../router';

  /** From a page to the bench: for a request of its site that is open, or for a new one. */
  let { page, requests }: { page: Schemas['PageRow']; requests: Schemas['RequestRow'][] } = $props();
  const fresh = $derived(`/requests/new?site=${page.site_id}&page=${page.id}`);
</script>

<Menu onSelect={(d) => go(d.value)}>
  <Menu.Trigger class="btn slim" aria-label="Change {page.address}">Change</Menu.Trigger>
  <Portal target={contents()}>
    <Menu.Positioner>
      <Menu.Content class="sheet ways">
        {#each requests as r (r.number)}
          <Menu.Item value="/requests/{r.number}/bench/{page.id}" class="way">
            <Menu.ItemText>for request {r.number}, “{r.subject}”</Menu.ItemText>
          </Menu.Item>
        {/each}
        <Menu.Item value={fresh} class="way"><Menu.ItemText>write down a new request</Menu.ItemText></Menu.Item>
      </Menu.Content>
    </Menu.Positioner>
  </Portal>
</Menu>
