<script lang="ts">
  import type { Schemas } from '../../api/client';
  import Runs from '../../parts/Runs.svelte';

  /** What changes, in words gone and new. */
  let {
    pages,
    round,
    onchange,
  }: { pages: Schemas['ProofPage'][]; round?: Schemas['RoundView']; onchange: (page: number, part: string) => void } =
    $props();
  const kinds = { words: 'words', picture: 'picture', section: 'section', facts: 'facts' };
  const list = $derived(pages.flatMap((p, i) => p.changes.map((c) => ({ c, p, i }))));
  const verdict = (id: number) => round?.answers.find((a) => a.change_id === id);
</script>

<section class="sheet" aria-label="What changes">
  <h2>What changes</h2>
  <ol>
    {#each list as { c, p, i }, n (c.id)}
      {@const v = verdict(c.id)}
      <li>
        <b class="mono">{n + 1}</b>
        <div>
          <button class="name" onclick={() => onchange(i, c.part)}>{c.part_name}</button>
          <span class="soft small">{kinds[c.kind]} on {c.address}</span>
          {#if c.kind === 'picture'}
            <div class="pics">
              <img src={new URL(c.before_picture, p.live_url).href} alt="until now" />
              <img src={new URL(c.after_picture, p.draft_url).href} alt="after" />
            </div>
            <span class="small">{c.picture_say}</span>
          {:else if c.kind === 'section'}
            <p class="small">{c.say}</p>
          {:else}
            <p><Runs runs={c.words} /></p>
          {/if}
          {#if v?.verdict === 'right'}<p class="small is-live">the client: right</p>{/if}
          {#if v?.verdict === 'not yet'}<p class="said look small">the client: not yet. {v.note}</p>{/if}
        </div>
      </li>
    {/each}
  </ol>
</section>

<style>
  h2 {
    font-size: 16px;
    padding: 11px 14px 7px;
  }
  li {
    display: grid;
    grid-template-columns: 22px minmax(0, 1fr);
    gap: 8px;
    padding: 9px 14px;
    border-top: 1px solid var(--hem);
    font-size: 14px;
  }
  .mono {
    padding-top: 3px;
    color: var(--ink-soft);
  }
  .name {
    font-weight: 600;
    text-align: left;
    cursor: pointer;
    overflow-wrap: anywhere;
  }
  .name:hover {
    text-decoration: underline;
  }
  .pics {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 8px;
    margin: 5px 0;
  }
  .pics img {
    width: 100%;
    height: 70px;
    object-fit: cover;
  }
  .pics img:last-child {
    outline: 2px solid var(--moss);
  }
  .pics img:first-child {
    outline: 2px solid var(--madder);
  }
</style>
