<script lang="ts">
  import type { Schemas } from '../../api/client';

  /** Who else has the page on the bench, and where on it. */
  let {
    here,
    parts,
    onshow,
  }: { here: Schemas['BenchGuest'][]; parts: Schemas['Part'][]; onshow: (part: string) => void } = $props();
  const guests = $derived(here.map((g) => ({ ...g, at: parts.find((p) => p.id === g.part) })));
</script>

<ul aria-label="Who else is on this page" class:none={!guests.length}>
  {#each guests as g (`${g.name} ${g.part}`)}
    <li>
      <b>{g.name}</b>
      {#if g.at}at <button onclick={() => onshow(g.at!.id)}>{g.at.name}</button>{:else}is on this page too{/if}
    </li>
  {/each}
</ul>

<style>
  ul {
    display: grid;
    max-height: 44px;
    max-width: 260px;
    overflow: auto;
    font-size: var(--size-s);
    border-left: 2px dotted var(--indigo);
    padding-left: var(--step-2);
  }
  .none {
    display: none;
  }
  li {
    display: flex;
    gap: 0.3em;
    white-space: nowrap;
  }
  button {
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    text-decoration: underline;
    cursor: pointer;
  }
</style>
