<script lang="ts">
  import type { Snippet } from 'svelte';

  /** A section that may be put in: a small picture of it and what it is. */
  let {
    name,
    holds,
    from,
    busy = false,
    onpick,
    children,
  }: {
    name: string;
    holds: string;
    from: string;
    busy?: boolean;
    onpick: () => void;
    /** Its picture. */
    children: Snippet;
  } = $props();
</script>

<button disabled={busy} onclick={onpick}>
  <span class="picture">{@render children()}</span>
  <b>{name}</b>
  <span class="small">{holds}</span>
  <span class="small soft">{from}</span>
</button>

<style>
  button {
    display: grid;
    grid-template-rows: 132px auto auto auto;
    gap: var(--step-half);
    align-content: start;
    width: 100%;
    padding: var(--step-2);
    background: var(--paper);
    border: 1px solid var(--hem);
    border-radius: var(--radius);
    text-align: left;
    cursor: pointer;
  }
  button:hover:not(:disabled) {
    border-color: var(--indigo);
    background: var(--indigo-wash);
  }
  button:disabled {
    cursor: progress;
  }
  .picture {
    display: grid;
    place-items: center;
    min-width: 0;
    overflow: hidden;
    margin-bottom: var(--step);
    background: var(--linen);
    border: 1px solid var(--hem);
  }
  b,
  .small {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
