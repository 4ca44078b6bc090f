<script lang="ts">
  import type { EditorProps } from './editors';
  import LinkFields from './LinkFields.svelte';

  /** Where a part that is a link leads to; of one in other words also what it says, which stays a link when it is typed here. */
  let { bench, desk, part, wish }: EditorProps = $props();
  const within = $derived(
    part.kind === 'link' &&
      ['words', 'heading', 'cell'].includes(bench.parts.find((p) => p.id === part.parent)?.kind ?? ''),
  );
</script>

{#if part.href}
  {#key desk.hand && part.id}<LinkFields {desk} {part} {wish} {within} />{/key}
{/if}
