<script lang="ts">
  import type { Schemas } from '../../api/client';

  /** How far changes of shared parts have come to all their pages; looks again until they are there. */
  let { spreading, again }: { spreading: Schemas['Spreading']; again: () => Promise<void> } = $props();

  const wait = 400; // ms between two looks
  $effect(() => {
    void spreading;
    const timer = setTimeout(() => void again(), wait);
    return () => clearTimeout(timer);
  });
  const done = $derived(spreading.of - spreading.left);
</script>

<div class="sheet">
  <h2>The change is on its way to all pages</h2>
  <p class="soft" role="status">
    {done} of {spreading.of} drafts have it. Nothing is live. You can leave this page; it goes on.
  </p>
  <progress value={done} max={spreading.of} aria-label="Drafts that have the change"></progress>
</div>

<style>
  .sheet {
    padding: var(--step-7);
    display: grid;
    gap: var(--step-2h);
    max-width: 560px;
  }
  progress {
    width: 100%;
    accent-color: var(--indigo);
  }
</style>
