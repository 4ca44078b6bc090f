<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import type { BenchPage } from '../desk.svelte';
  import Measure from './Measure.svelte';
  import { behindAs } from './places';
  import PictureWork from './PictureWork.svelte';

  /** What pictures need on the bench: their places measured when one is in hand, and the table on which one is chosen. */
  let {
    bench,
    desk,
    request,
    current,
    wish,
    onchoose,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    request: Schemas['Request'];
    current?: Schemas['Part'];
    wish?: number;
    onchoose: (id: string | undefined) => void;
  } = $props();

  const picked = $derived.by(() => {
    const part = desk.picking && bench.parts.find((p) => p.id === desk.picking!.part);
    return part && desk.picking?.behind !== undefined ? behindAs(part, desk.picking.behind) : part;
  });
  const wants = $derived(picked ?? (current?.picture ? current : undefined));
  // While a picture is worked on its place stays what it was, whatever is kept meanwhile.
  const first = $derived(desk.picking?.behind === '' ? picked?.id : undefined); // nothing stands behind it yet
  const known = $derived(
    (desk.measured?.draft === bench.draft || !!(picked && desk.measured)) && (!first || !!desk.measured?.places[first]),
  );
</script>

{#if wants && !known && desk.state === 'kept'}
  {#key `${bench.draft} ${first}`}
    <Measure
      {bench}
      number={request.row.number}
      behind={first}
      onmeasured={(places) => (desk.measured = { draft: bench.draft, places })}
    />
  {/key}
{/if}
{#if desk.picking && picked}
  {#key desk.picking}
    <PictureWork
      {bench}
      {desk}
      {request}
      part={picked}
      from={desk.picking.from}
      put={desk.picking.put}
      where={desk.picking.where}
      places={desk.picking.put === 'new' ? undefined : desk.measured?.places[picked.id]}
      {wish}
      onclose={(made) => {
        const put = desk.picking?.put;
        desk.picking = undefined;
        if (made && put) onchoose(made);
      }}
    />
  {/key}
{/if}
