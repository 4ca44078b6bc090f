<script lang="ts">
  import type { Schemas } from '../api/client';
  import { weight } from '../look/time';

  /** The files to download that a change brings: each can be fetched, and what stood in its place. */
  let { files, at }: { files: Schemas['ChangeFile'][]; at: (n: number, before: boolean) => string } = $props();
</script>

<ul>
  {#each files as f (f.n)}
    <li>
      <span class="mono small" title={f.path}>{f.name}</span>
      <span class="is">
        {#if f.was_kind}
          <a class="was" href={at(f.n, true)} download title="until now">{f.was_kind}, {weight(f.was_size ?? 0)}</a>
          <span aria-hidden="true">→</span>
          <a class="now" href={at(f.n, false)} download>{f.kind}, {weight(f.size)}</a>
          <small class="soft">under the same address</small>
        {:else}
          <a class="now" href={at(f.n, false)} download>{f.kind}, {weight(f.size)}</a> <small class="soft">new</small>
        {/if}
      </span>
    </li>
  {/each}
</ul>

<style>
  ul {
    display: grid;
    gap: var(--step-1h);
  }
  li {
    display: grid;
    gap: var(--step-half);
    overflow-wrap: anywhere;
  }
  .is {
    display: flex;
    flex-wrap: wrap;
    gap: 0 var(--step-1h);
    align-items: baseline;
  }
  a {
    text-decoration: underline;
  }
  .was {
    text-decoration: line-through;
    color: var(--ink-soft);
  }
  .now {
    font-weight: 600;
  }
</style>
