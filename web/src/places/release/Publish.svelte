<script lang="ts">
  import { answer, api, type Schemas } from '../../api/client';
  import Key from '../../look/Key.svelte';
  import { onKeys } from '../../look/keys.svelte';
  import Ask from '../../parts/Ask.svelte';

  /** What is to be published, page by page, and publishing it. */
  let {
    proof,
    busy,
    run,
  }: { proof: Schemas['Proof']; busy: boolean; run: (act: () => Promise<unknown>) => Promise<void> } = $props();

  let left = $state<number[]>([]); // pages that are not to be published yet
  let asking = $state(false);
  const chosen = $derived(proof.pages.filter((p) => !left.includes(p.page.id)));
  const count = $derived(chosen.reduce((n, p) => n + p.changes.length, 0));

  onKeys(() => ({ p: (down) => down && !busy && proof.can_publish && chosen.length && (asking = true) }));
  const publish = () =>
    run(() =>
      answer(
        api.POST('/requests/{number}/releases', {
          params: { path: { number: proof.row.number } },
          body: { pages: chosen.map((p) => p.page.id) },
        }),
      ),
    );
</script>

<section class="sheet" aria-label="To be published">
  <h2>To be published <span class="is-kept small">kept, not live</span></h2>
  <ul>
    {#each proof.pages as p (p.page.id)}
      <li>
        <label
          ><input
            type="checkbox"
            checked={!left.includes(p.page.id)}
            onchange={(e) =>
              (left = e.currentTarget.checked ? left.filter((x) => x !== p.page.id) : [...left, p.page.id])}
          /> <span class="mono">{p.page.address}</span></label
        >
        <span class="small">{p.changes.map((c) => c.say).join(' · ')}</span>
        <span class="small {p.cleared ? 'is-live' : 'is-look'}">{p.cleared ? 'cleared' : 'not cleared'}</span>
      </li>
    {/each}
  </ul>
  <p class="acts">
    <button class="btn go" disabled={!proof.can_publish || !chosen.length || busy} onclick={() => (asking = true)}
      >{proof.by_hand ? 'Make the list for' : 'Publish'}
      {count}
      {count === 1 ? 'change' : 'changes'}
      <Key k="P" /></button
    >
    {#if proof.why_not_publish}<span class="small"
        >{proof.why_not_publish} <a href="/requests/{proof.row.number}/proof">Go to the proof</a></span
      >{/if}
  </p>
</section>
<Ask
  bind:open={asking}
  title={proof.by_hand ? `Publish on ${proof.row.site_name} by hand?` : `Publish on ${proof.row.site_name}?`}
  act={proof.by_hand ? 'Make the list' : 'Publish now'}
  onact={publish}
>
  {#if proof.by_hand}
    Mendry may only read this site. It makes a list of what to put where, for {count === 1
      ? 'one change'
      : `${count} changes`}. Nothing goes live until you put it in; Mendry looks at the live page after you.
  {:else}
    {count === 1 ? 'One change' : `${count} changes`} on {chosen.length === 1 ? 'one page' : `${chosen.length} pages`} go
    live: pictures first, then pages, each only if nobody else has changed it since. Afterwards every page is looked at as
    visitors get it. It can be taken back.
  {/if}
</Ask>

<style>
  h2 {
    font-size: var(--size-l);
    padding: var(--step-3h) var(--step-4) var(--step-2);
    display: flex;
    gap: var(--step-3);
    align-items: baseline;
  }
  li {
    display: grid;
    grid-template-columns: 250px minmax(0, 1fr) 90px;
    gap: var(--step-3h);
    align-items: baseline;
    padding: var(--step-2) var(--step-4);
    border-top: 1px solid var(--hem);
  }
  .acts {
    display: flex;
    gap: var(--step-3h);
    align-items: center;
    padding: var(--step-3) var(--step-4);
    border-top: 1px solid var(--hem);
  }
</style>
