<script lang="ts">
  import { untrack } from 'svelte';
  import type { BenchPage } from './desk.svelte';
  import type { EditorProps } from './editors';
  import type { Field } from './field.svelte';

  let { desk, part, wish, within }: { desk: BenchPage; part: EditorProps['part']; wish?: number; within: boolean } =
    $props();
  const says = untrack(() => desk.field({ do: 'words', part: part.id, words: '' }));
  const href = untrack(() => desk.field({ do: 'attribute', name: 'href', part: part.id, words: '' }));
  async function leave(field: Field) {
    await desk.flush();
    field.leave();
  }
</script>

{#snippet field(name: string, it: Field)}
  <label class="field">
    <span>{name}</span>
    <input class="box" value={it.now} oninput={(e) => it.type(e.currentTarget.value, wish)} onblur={() => leave(it)} />
  </label>
{/snippet}

{#if within}{@render field('Says', says)}{/if}
{@render field('Leads to', href)}
