<script lang="ts">
  import { Menu, Portal } from '@skeletonlabs/skeleton-svelte';
  import type { Schemas } from '../../api/client';
  import { contents } from '../../look/contents';
  import type { Act } from './desk.svelte';
  import { siblings } from './siblings';

  /** Moves a part past any number of those that it stands in a row with, in one act; a section to another page, an entry of a menu below
   *  another one, too. */
  let {
    part,
    bench,
    act,
    onpage,
  }: { part: Schemas['Part']; bench: Schemas['Bench']; act: (f: Act) => void; onpage: () => void } = $props();
  const elsewhere = 'another page';
  const under = (entry: string) => `under ${entry}`;
  const row = $derived(siblings(bench.parts, part));
  const own = $derived(row.findIndex((p) => p.id === part.id));
  const places = $derived(
    row
      .map((p, i) => ({ p, where: (i < own ? 'before' : 'after') as 'before' | 'after', i }))
      .filter(({ i }) => i !== own),
  );
  const goes = $derived(part.around === part.id && ['section', 'set'].includes(part.kind));
</script>

{#if row.length > 2 || goes || part.unders}
  <Menu
    onSelect={(d) => {
      if (d.value === elsewhere) return onpage();
      const below = part.unders?.find((u) => under(u.entry) === d.value);
      if (below) return act({ do: 'under', part: part.id, entry: below.entry });
      const to = places.find(({ p }) => p.id === d.value);
      if (to) act({ do: 'move', part: part.id, anchor: to.p.id, where: to.where });
    }}
  >
    <Menu.Trigger class="btn slim">Move to…</Menu.Trigger>
    <Portal target={contents()}>
      <Menu.Positioner>
        <Menu.Content class="sheet ways">
          {#each row.length > 2 ? places : [] as { p, where, i } (p.id)}
            <Menu.Item value={p.id} class="way">
              <Menu.ItemText
                >{i === 0 ? 'to the top, ' : i === row.length - 1 ? 'to the end, ' : ''}{where} “{p.name.replace(
                  /[“”]/g,
                  '',
                )}”</Menu.ItemText
              >
            </Menu.Item>
          {/each}
          {#each part.unders ?? [] as u (u.entry)}
            <Menu.Item value={under(u.entry)} class="way">
              <Menu.ItemText>{u.entry ? `under “${u.name}”` : 'to the first level'}</Menu.ItemText>
            </Menu.Item>
          {/each}
          {#if goes}<Menu.Item value={elsewhere} class="way"><Menu.ItemText>to another page…</Menu.ItemText></Menu.Item
            >{/if}
        </Menu.Content>
      </Menu.Positioner>
    </Portal>
  </Menu>
{/if}
