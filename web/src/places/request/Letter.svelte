<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { pieces } from './letter';

  /** A letter with its wishes marked. */
  let {
    request,
    current,
    onwish,
  }: { request: Schemas['Request']; current?: number; onwish?: (w: Schemas['Wish']) => void } = $props();
  const cut = $derived(pieces(request.letter, request.wishes, request.dates));
  const look = (p: (typeof cut)[number]) =>
    !p.wish
      ? ''
      : p.wish.state === 'done'
        ? 'done'
        : p.wish.state === 'open'
          ? p.wish.page_id
            ? 'placed'
            : 'todo'
          : 'closed';
</script>

<!-- prettier-ignore -->
<div class="letter">{#each cut as p (p.start)}{#if p.wish}<button class="wish {look(p)}" class:bad={p.bad} class:now={p.wish.id === current} title={p.bad} onclick={() => onwish?.(p.wish!)} data-start={p.start}>{p.text}</button>{#if p.start + p.text.length === p.wish.end}<sup>{(p.index ?? 0) + 1}</sup>{/if}{:else if p.bad}<span class="bad" title={p.bad} data-start={p.start}>{p.text}</span>{:else}<span data-start={p.start}>{p.text}</span>{/if}{/each}</div>

<style>
  .letter {
    white-space: pre-wrap;
    font-size: var(--size-l);
    line-height: 1.65;
    overflow-wrap: anywhere;
  }
  .wish {
    display: inline;
    text-align: left;
    background: none;
    border: 0;
    border-bottom: 2px solid var(--moss);
    padding: 0 0 1px;
    cursor: pointer;
    white-space: pre-wrap;
    user-select: text;
  }
  .todo {
    border-bottom: 2px dashed var(--weld);
  }
  .placed {
    border-bottom-color: var(--indigo);
  }
  .closed {
    border-bottom: 2px dotted var(--ink-soft);
    text-decoration: line-through;
  }
  .bad {
    border-bottom: 2px solid var(--madder);
    color: var(--madder);
  }
  .now {
    background: var(--indigo-wash);
  }
  sup {
    font: 700 10px var(--mono);
    padding-left: var(--step-half);
    color: var(--ink-soft);
  }
</style>
