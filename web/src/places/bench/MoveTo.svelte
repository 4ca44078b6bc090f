<script lang="ts">
  import { Menu, Portal } from '@skeletonlabs/skeleton-svelte';
  import type { Schemas } from '../../api/client';
  import { contents } from '../../look/contents';
  import type { Act } from './desk.svelte';
  import { siblings } from './siblings';

  /** Moves a part past any number of those that it stands in a row with, in one act. */
  let { part, bench, act }: { part: Schemas['Part']; bench: Schemas['Bench']; act: (f: Act) => void } = $props();
  const row = $derived(siblings(bench.parts, part));
  const own = $derived(row.findIndex((p) => p.id === part.id));
  const places = $derived(
    row
      .map((p, i) => ({ p, where: (i < own ? 'before' : 'after') as 'before' | 'after', i }))
      .filter(({ i }) => i !== own),
  );
</script>

{#if row.length > 2}
  <Menu
    onSelect={(d) => {
      const to = places.find(({ p }) => p.id === d.value);
      if (to) act({ do: 'move', part: part.id, anchor: to.p.id, where: to.where });
    }}
  >
    <Menu.Trigger class="btn slim">Move to…</Menu.Trigger>
    <Portal target={contents()}>
      <Menu.Positioner>
        <Menu.Content class="sheet ways">
          {#each places as { p, where, i } (p.id)}
            <Menu.Item value={p.id} class="way">
              <Menu.ItemText
                >{i === 0 ? 'to the top, ' : i === row.length - 1 ? 'to the end, ' : ''}{where} “{p.name.replace(
                  /[“”]/g,
                  '',
                )}”</Menu.ItemText
              >
            </Menu.Item>
          {/each}
        </Menu.Content>
      </Menu.Positioner>
    </Portal>
  </Menu>
{/if}
