<script lang="ts">
  import type { EditorProps } from './editors';
  import SameWords from './SameWords.svelte';

  /** Where else the old words of a part's change stand. */
  let { bench, desk, request, part }: EditorProps = $props();
  const change = $derived(bench.changes.find((c) => c.id === part.change_id));
</script>

{#if change?.kind === 'words'}
  <SameWords
    number={request.row.number}
    {change}
    page={bench.page.id}
    site={bench.page.site_id}
    onchanged={() => desk.again()}
  />
{/if}
