<script lang="ts">
  import type { Schemas } from '../api/client';
  import { weight } from '../look/time';

  /** The files to download that a change brings: each can be fetched, and what stood in its place. */
  let { files, at }: { files: Schemas['ChangeFile'][]; at: (n: number, before: boolean) => string } = $props();
</script>

<ul>
  {#each files as f (f.n)}
    <li>
      {#if f.was_kind}
        <span class="was">
          <small>until now</small>
          <a href={at(f.n, true)} download>{f.was_kind}, {weight(f.was_size ?? 0)}</a>
        </span>
        <span aria-hidden="true">→</span>
      {/if}
      <span class="now">
        <small>{f.was_kind ? 'after, under the same address' : 'new'}</small>
        <a href={at(f.n, false)} download>{f.kind}, {weight(f.size)}</a>
      </span>
      <span class="mono small soft">{f.path}</span>
    </li>
  {/each}
</ul>

<style>
  li {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-half) var(--step-2h);
    align-items: end;
  }
  small {
    display: block;
    color: var(--ink-soft);
  }
  .was a {
    text-decoration: line-through;
    color: var(--ink-soft);
  }
  .now a {
    font-weight: 600;
  }
  .mono {
    width: 100%;
    overflow-wrap: anywhere;
  }
</style>
