<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { zoneOf } from '../../api/session.svelte';
  import type { Act } from './desk.svelte';
  import StylePick from './StylePick.svelte';
  import Wordings from './Wordings.svelte';

  /** The styles of the site for chosen words of a part, and the part's earlier wordings. */
  let {
    bench,
    request,
    part,
    act,
    onchosen,
  }: {
    bench: Schemas['Bench'];
    request: Schemas['Request'];
    part: Schemas['Part'];
    act: (act: Act) => void;
    onchosen?: (name: string) => void;
  } = $props();
</script>

<div class="more">
  {#if onchosen}
    <StylePick number={request.row.number} page={bench.page.id} part={part.id} {onchosen} />
  {/if}
  <Wordings
    number={request.row.number}
    page={bench.page.id}
    {part}
    zone={zoneOf(bench.page.site_id)}
    onback={(version) => act({ do: 'back', part: part.id, version })}
  />
</div>

<style>
  .more {
    display: flex;
    flex-wrap: wrap;
    gap: 0 var(--step-1h);
  }
  .more > :global(div) {
    display: contents;
  }
  .more :global(:is(ul, ol, p)) {
    order: 1;
    flex-basis: 100%;
  }
</style>
