<script lang="ts">
  import type { Schemas } from '../../api/client';

  /** Rows and columns of the table, from one of its cells. */
  let { onact }: { onact: (act: Schemas['TableAct']) => void } = $props();
  const lines: { name: string; acts: { act: Schemas['TableAct']; say: string }[] }[] = [
    {
      name: 'Row',
      acts: [
        { act: 'row above', say: 'New above' },
        { act: 'row below', say: 'New below' },
        { act: 'row out', say: 'Take out' },
      ],
    },
    {
      name: 'Column',
      acts: [
        { act: 'column before', say: 'New before' },
        { act: 'column after', say: 'New after' },
        { act: 'column out', say: 'Take out' },
      ],
    },
  ];
</script>

<dl>
  {#each lines as line (line.name)}
    <dt class="small soft">{line.name}</dt>
    <dd>
      {#each line.acts as a (a.act)}
        <button
          class={['btn', 'slim', { warn: a.say === 'Take out' }]}
          aria-label="{line.name}: {a.say.toLowerCase()}"
          onclick={() => onact(a.act)}>{a.say}</button
        >
      {/each}
    </dd>
  {/each}
</dl>

<style>
  dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 6px;
    align-items: center;
  }
  dd {
    display: flex;
    flex-wrap: wrap;
    gap: 3px;
  }
  dd button {
    padding-inline: 7px;
  }
</style>
