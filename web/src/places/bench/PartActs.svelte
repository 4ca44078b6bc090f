<script lang="ts">
  import type { Schemas } from '../../api/client';
  import type { Act } from './desk.svelte';
  import { isMarkdown, type Where } from './picture/lay';
  import MoveTo from './MoveTo.svelte';
  import type { Refused } from './refused.svelte';

  /** What can be done to a part as a whole. */
  let {
    part,
    bench,
    act,
    refused,
    onpicture,
    onfile,
    onfilm,
    onsection,
    onpage,
  }: {
    part: Schemas['Part'];
    bench: Schemas['Bench'];
    act: (f: Act) => void;
    refused: Refused;
    onpicture: (where: Where) => void;
    onfile: () => void;
    onfilm: () => void;
    onsection: () => void;
    onpage: () => void;
  } = $props();
  const named = (id: string) => bench.parts.find((p) => p.id === id)?.name ?? '';
  const up = $derived(part.fits.find((f) => f.where === 'before'));
  const down = $derived(part.fits.find((f) => f.where === 'after'));
  const block = $derived(part.kind === 'heading' || part.kind === 'words');
  const holds = $derived(block || ['section', 'picture', 'table'].includes(part.kind));
  /** It is a column or another place for blocks. */
  const contains = $derived(['section', 'item'].includes(part.kind) && !isMarkdown(bench));
  const puts = { words: 'Words', heading: 'Heading', list: 'List', button: 'Button' } as const;
  const putting = Object.entries(puts) as [keyof typeof puts, string][];
  const whole = ['section', 'set', 'item', 'words', 'heading', 'table', 'picture', 'button', 'link', 'video', 'embed'];
</script>

{#if up || down || whole.includes(part.kind)}
  <p>
    <button
      class="btn slim"
      disabled={!!refused.why('copy')}
      onclick={() => act({ do: 'copy', part: part.id, where: 'after' })}>Copy below</button
    >
    {#if up}<button
        class="btn slim"
        title="before {named(up.anchor)}"
        disabled={!!refused.why('move', 'before')}
        onclick={() => act({ do: 'move', part: part.id, anchor: up.anchor, where: 'before' })}>Move up</button
      >{/if}
    {#if down}<button
        class="btn slim"
        title="after {named(down.anchor)}"
        disabled={!!refused.why('move', 'after')}
        onclick={() => act({ do: 'move', part: part.id, anchor: down.anchor, where: 'after' })}>Move down</button
      >{/if}
    <MoveTo {part} {bench} {act} {onpage} />
    {#if part.kind !== 'link'}<button
        class="btn slim"
        title="Out of the page for visitors and search engines; its place is remembered, and it can be shown again"
        disabled={!!refused.why('remove')}
        onclick={() => act({ do: 'hide', part: part.id })}>Hide</button
      >{/if}
    <button
      class="btn slim warn"
      disabled={!!refused.why('remove')}
      onclick={() => act({ do: 'remove', part: part.id })}>Take out</button
    >
  </p>
  {#if holds || part.around || part.kind === 'link'}
    <p role="group" aria-label="Put below it">
      <span class="small soft row" aria-hidden="true">New below it</span>
      {#if block && part.splits}<button
          class="btn slim"
          aria-label="Table below"
          disabled={!!refused.why('table', 'new')}
          onclick={() => act({ do: 'table', part: part.id, table: 'new' })}>Table</button
        >{/if}
      {#if holds}
        <button class="btn slim" aria-label="Picture below" onclick={() => onpicture('after')}>Picture</button>
        <button class="btn slim" aria-label="Film below" onclick={onfilm}>Film</button>
      {/if}
      {#if block || part.kind === 'link'}<button class="btn slim" aria-label="File below" onclick={onfile}>File</button
        >{/if}
      {#if part.around}<button
          class="btn slim"
          aria-label="Section below"
          title="below “{named(part.around).replace(/[“”]/g, '')}”"
          onclick={onsection}>Section</button
        >{/if}
    </p>
  {/if}
  {#if contains}
    <p role="group" aria-label="Put in it">
      <span class="small soft row" aria-hidden="true">New in it</span>
      {#each putting as [what, name] (what)}<button
          class="btn slim"
          aria-label="{name} at its end"
          onclick={() => act({ do: 'put', part: part.id, where: 'last', what })}>{name}</button
        >{/each}
      <button class="btn slim" aria-label="Picture at its end" onclick={() => onpicture('last')}>Picture</button>
      <button class="btn slim" aria-label="Picture at its top" onclick={() => onpicture('first')}>Picture on top</button
      >
    </p>
  {/if}
  {#each refused.whys(['copy', 'move', 'remove', ...(part.kind === 'cell' ? [] : ['table'])]) as why (why)}
    <p class="small soft">{why}</p>
  {/each}
{/if}

<style>
  p {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-1h);
    align-items: baseline;
  }
  .row {
    flex-basis: 100%;
    margin-bottom: calc(-1 * var(--step-half));
  }
</style>
