<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import type { BenchPage } from '../desk.svelte';
  import NewSection from './NewSection.svelte';

  /** Where a new section is chosen, while one is. */
  let {
    bench,
    desk,
    request,
    wish,
    onchoose,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    request: Schemas['Request'];
    wish?: number;
    onchoose: (id: string | undefined) => void;
  } = $props();
  const part = $derived(bench.parts.find((p) => p.id === desk.adding));
</script>

{#if part}
  <NewSection
    {bench}
    {desk}
    site={request.row.site_id}
    {part}
    {wish}
    onclose={(made) => {
      const beside = part.id; // gone with what is being added
      desk.adding = undefined;
      desk.cursor = made ? 'all' : undefined;
      onchoose(made ?? beside);
    }}
  />
{/if}
