<script lang="ts">
  import type { Schemas } from '../../api/client';
  import type { EditorProps } from './editors';

  /** Rows and columns of the table, from one of its cells. */
  let { part, act, refused }: EditorProps = $props();
  const lines: { name: string; acts: { edit: Schemas['TableEdit']; say: string }[] }[] = [
    {
      name: 'Row',
      acts: [
        { edit: 'row above', say: 'New above' },
        { edit: 'row below', say: 'New below' },
        { edit: 'row out', say: 'Take out' },
      ],
    },
    {
      name: 'Column',
      acts: [
        { edit: 'column before', say: 'New before' },
        { edit: 'column after', say: 'New after' },
        { edit: 'column out', say: 'Take out' },
      ],
    },
  ];
</script>

<dl>
  {#each lines as line (line.name)}
    <dt class="small soft">{line.name}</dt>
    <dd>
      {#each line.acts as a (a.edit)}
        <button
          class={['btn', 'slim', { warn: a.say === 'Take out' }]}
          disabled={!!refused.why('table', a.edit)}
          aria-label="{line.name}: {a.say.toLowerCase()}"
          onclick={() => act({ do: 'table', part: part.id, table: a.edit })}>{a.say}</button
        >
      {/each}
    </dd>
  {/each}
</dl>
{#each refused.whys(['table']) as why (why)}<p class="small soft">{why}</p>{/each}

<style>
  dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: var(--step-1h);
    align-items: center;
  }
  dd {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step);
  }
  dd button {
    padding-inline: var(--step-2);
  }
</style>
