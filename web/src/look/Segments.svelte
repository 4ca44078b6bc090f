<script lang="ts" generics="T extends string">
  import { SegmentedControl } from '@skeletonlabs/skeleton-svelte';

  /** One of a few, side by side. */
  let {
    label,
    choices,
    value = $bindable(),
  }: {
    label: string;
    choices: { value: T; label: string; title?: string }[];
    value: T;
  } = $props();
</script>

<SegmentedControl class="segments" {value} onValueChange={(d) => (value = d.value as T)}>
  <SegmentedControl.Label class="unseen">{label}</SegmentedControl.Label>
  <SegmentedControl.Control class="segments-row">
    {#each choices as c (c.value)}
      <SegmentedControl.Item value={c.value} class="segment" title={c.title}>
        <SegmentedControl.ItemText>{c.label}</SegmentedControl.ItemText>
        <SegmentedControl.ItemHiddenInput />
      </SegmentedControl.Item>
    {/each}
  </SegmentedControl.Control>
</SegmentedControl>

<style>
  :global(.segments.segments) {
    flex: none;
    width: auto;
    gap: 0;
  }
  :global(.segments .segments-row) {
    display: inline-flex;
    gap: 0;
    padding: 0;
    border: 1.5px solid var(--ink);
    border-radius: var(--radius);
    background: var(--paper);
    overflow: hidden;
  }
  :global(.segments .segment) {
    padding: var(--step) var(--step-2h);
    border-radius: 0;
    font-size: var(--size-m);
    line-height: 1.4;
    font-weight: inherit;
    color: var(--ink);
    cursor: pointer;
    transition: none;
  }
  :global(.segments .segment + .segment) {
    border-left: 1px solid var(--hem-strong);
  }
  :global(.segments .segment > span) {
    color: inherit;
  }
  :global(.segments .segment[data-state='checked']) {
    background: var(--ink);
    color: var(--white);
  }
  :global(.segments .segment[data-focus-visible]) {
    outline: 2.5px solid var(--indigo);
    outline-offset: -3px;
  }
</style>
