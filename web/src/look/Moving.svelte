<script lang="ts">
  import { Progress } from '@skeletonlabs/skeleton-svelte';

  /** How far something has come; of not yet known length where `of` is 0. */
  let { label, done, of }: { label: string; done: number; of: number } = $props();
</script>

<Progress class="moving" value={of ? done : null} max={of || 1}>
  <Progress.Label class="unseen">{label}</Progress.Label>
  <Progress.Track><Progress.Range /></Progress.Track>
</Progress>

<style>
  :global(.moving.moving) {
    display: inline-flex;
    width: 160px;
    vertical-align: middle;
  }
  :global(.moving [data-part='track']) {
    background: var(--hem);
    border-radius: var(--radius);
  }
  :global(.moving [data-part='range']) {
    background: var(--indigo);
  }
</style>
