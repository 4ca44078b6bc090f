<script lang="ts">
  import { Switch } from '@skeletonlabs/skeleton-svelte';

  /** Something that is on or off. */
  let { label, on, onswitch }: { label: string; on: boolean; onswitch: (on: boolean) => void } = $props();
</script>

<Switch class="onoff" checked={on} onCheckedChange={(d) => onswitch(d.checked)}>
  <Switch.Control class="onoff-way"><Switch.Thumb /></Switch.Control>
  <Switch.Label>{label}</Switch.Label>
  <Switch.HiddenInput />
</Switch>

<style>
  :global(.onoff .onoff-way) {
    background: var(--hem-strong);
  }
  :global(.onoff .onoff-way[data-state='checked']) {
    background: var(--indigo);
  }
  :global(.onoff .onoff-way[data-focus-visible]) {
    outline: 2.5px solid var(--indigo);
    outline-offset: 2px;
  }
</style>
