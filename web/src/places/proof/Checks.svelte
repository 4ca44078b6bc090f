<script lang="ts">
  import type { Schemas } from '../../api/client';

  /** What the rules of the trade found: what stops first. */
  let { pages, findings }: { pages: Schemas['ProofPage'][]; findings: Schemas['Finding'][] } = $props();
  const weight = { stop: 0, look: 1, fine: 2 };
  const all = $derived(
    [
      ...findings.map((f) => ({ f, at: '' })),
      ...pages.flatMap((p) => p.findings.map((f) => ({ f, at: pages.length > 1 ? p.page.address : '' }))),
    ].sort((a, b) => weight[a.f.level] - weight[b.f.level]),
  );
</script>

<section class="sheet" aria-label="Checks">
  <h2>Checks</h2>
  <ul>
    {#each all as { f, at }, i (i)}
      <li>
        <b class="mono is-{f.level}">{f.level}</b>
        <span
          >{f.say}
          {#if at}<span class="soft small">{at}</span>{/if}</span
        >
      </li>
    {/each}
  </ul>
</section>

<style>
  h2 {
    font-size: 16px;
    padding: 11px 14px 7px;
  }
  li {
    display: grid;
    grid-template-columns: 40px minmax(0, 1fr);
    gap: 8px;
    padding: 8px 14px;
    border-top: 1px solid var(--hem);
    font-size: 14px;
  }
  b {
    padding-top: 3px;
  }
</style>
