<script lang="ts">
  import type { Schemas } from '../../api/client';
  import FindingLine from '../../parts/check/FindingLine.svelte';
  import { Mending } from '../../parts/check/mending.svelte';

  /** What the rules of the trade found: what stops first. Some can be mended here. */
  let {
    number,
    site,
    pages,
    findings,
    onmended,
  }: {
    number: number;
    site: number;
    pages: Schemas['ProofPage'][];
    findings: Schemas['Finding'][];
    onmended: () => void;
  } = $props();
  const mending = new Mending(
    () => ({ number, site }),
    () => onmended(),
  );
  /** Where a finding is settled; what is fine needs no way. */
  const way = (f: Schemas['Finding']) =>
    f.level === 'fine'
      ? ''
      : f.wish_id
        ? `/requests/${number}?wish=${f.wish_id}`
        : f.page_id
          ? `/requests/${number}/bench/${f.page_id}${f.part ? `?part=${f.part}` : ''}`
          : f.rule === 'letter-dates'
            ? `/requests/${number}`
            : '';
  const weight = { stop: 0, look: 1, fine: 2 };
  const all = $derived(
    [
      ...findings.map((f) => ({ f, at: '' })),
      ...pages.flatMap((p) => p.findings.map((f) => ({ f, at: pages.length > 1 ? p.page.address : '' }))),
    ].sort((a, b) => weight[a.f.level] - weight[b.f.level]),
  );
  // What is fine on several pages is said once.
  const shown = $derived(
    all
      .filter(
        (x, i) => x.f.level !== 'fine' || all.findIndex((y) => y.f.level === 'fine' && y.f.rule === x.f.rule) === i,
      )
      .map((x) => {
        const more = all.filter((y) => y.f.level === 'fine' && y.f.rule === x.f.rule).length - 1;
        return x.f.level === 'fine' && more > 0 ? { ...x, at: `${x.at} and ${more} more` } : x;
      }),
  );
</script>

<section class="sheet" aria-label="Checks">
  <h2>Checks</h2>
  <ul>
    {#each shown as { f, at }, i (i)}
      <li>
        <FindingLine finding={f} {at} way={way(f)} {mending} />
      </li>
    {/each}
  </ul>
</section>

<style>
  h2 {
    font-size: var(--size-l);
    padding: var(--step-3) var(--step-3h) var(--step-2);
  }
  li {
    display: grid;
    grid-template-columns: 40px minmax(0, 1fr);
    gap: var(--step-2);
    padding: var(--step-2) var(--step-3h);
    border-top: 1px solid var(--hem);
    font-size: var(--size-m);
  }
</style>
