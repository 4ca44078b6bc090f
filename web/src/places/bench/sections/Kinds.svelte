<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import { ofKind, samples } from './samples';
  import Sketch from './Sketch.svelte';

  /** What a new section may begin with, and how many of each the site has. */
  let { all, kind = $bindable() }: { all: Schemas['LentSection'][]; kind: string } = $props();
  const focus = (el: HTMLElement) => el.focus({ preventScroll: true });
</script>

<nav aria-label="What it begins with">
  <button class="kind" aria-pressed={!kind} {@attach focus} onclick={() => (kind = '')}>
    <b>All that the site has</b><span class="mono">{all.length}</span>
  </button>
  {#each samples as s (s.kind)}
    <button class="kind" aria-pressed={kind === s.kind} onclick={() => (kind = s.kind)}>
      <Sketch of={s} wide={36} /><span>{s.name}</span><span class="mono soft">{ofKind(all, s.kind).length || ''}</span>
    </button>
  {/each}
</nav>

<style>
  nav {
    overflow-y: auto;
    padding: var(--step-3) 0 var(--step-3) var(--step-5);
    display: grid;
    align-content: start;
    gap: var(--step-half);
  }
  .kind {
    display: flex;
    gap: var(--step-2);
    align-items: center;
    padding: var(--step) var(--step-2);
    border: 1.5px solid transparent;
    border-radius: var(--radius);
    text-align: left;
    line-height: 1.2;
    min-height: 36px;
    cursor: pointer;
  }
  .kind .mono {
    margin-left: auto;
  }
  .kind:hover {
    background: var(--indigo-wash);
  }
  .kind[aria-pressed='true'] {
    border-color: var(--indigo);
    background: var(--indigo-wash);
  }
</style>
