<script lang="ts">
  import type { Schemas } from '../../api/client';
  import FindingLine from '../../parts/check/FindingLine.svelte';
  import { Mending } from '../../parts/check/mending.svelte';
  import type { BenchPage } from './desk.svelte';

  /** What the rules about words say of the part in hand, while one writes; of the rest of its run only how much. */
  let { number, desk, part }: { number: number; desk: BenchPage; part: Schemas['Part'] } = $props();

  const mending = new Mending(
    () => ({ number, site: desk.bench!.page.site_id }),
    () => desk.again(),
    () => desk.flush(),
  );
  const own = $derived(desk.rules.said.filter((f) => f.part === part.id));
  const others = $derived(desk.saidHere.length - own.length);
</script>

{#if own.length || others > 0}
  <ul class="small" aria-label="What the checks say of this part" aria-live="polite">
    {#each own as f, i (i)}
      <li><FindingLine finding={f} {mending} /></li>
    {/each}
    {#if others > 0}<li class="soft"><span></span>{others} more in this run, marked in the words.</li>{/if}
  </ul>
{/if}

<style>
  ul {
    display: grid;
    gap: var(--step-1h);
  }
  ul :global(.btn) {
    padding: 0 var(--step-2);
    height: 24px;
    font-size: var(--size-s);
  }
  li {
    display: grid;
    grid-template-columns: 36px minmax(0, 1fr);
    gap: var(--step-1h);
  }
</style>
