<script lang="ts">
  import { Collapsible } from '@skeletonlabs/skeleton-svelte';
  import type { Schemas } from '../../api/client';
  import { alike, inWords } from '../../parts/alike';
  import FilesChanged from '../../parts/FilesChanged.svelte';
  import { fileOf } from '../../api/client';
  import PagesOf from '../../parts/PagesOf.svelte';
  import Placed from '../../parts/Placed.svelte';
  import Runs from '../../parts/Runs.svelte';

  /** What changes, in words gone and new. */
  let {
    number,
    pages,
    round,
    onchange,
    onpages,
  }: {
    number: number;
    pages: Schemas['ProofPage'][];
    round?: Schemas['RoundView'];
    onchange: (page: number, part: string) => void;
    /** A change is made on other pages than it was. */
    onpages: () => void;
  } = $props();
  const kinds = { words: 'words', picture: 'picture', section: 'section', facts: 'facts', file: 'file', video: 'film' };
  // Changes that do the same on many pages are one card.
  const cards = $derived(alike(pages.flatMap((p, i) => p.changes.map((c) => ({ ...c, p, i })))));
  const verdict = (id: number) => round?.answers.find((a) => a.change_id === id);
</script>

<section class="sheet" aria-label="What changes">
  <h2>What changes</h2>
  <ol>
    {#each cards as card, n (card[0]!.id)}
      {@const c = card[0]!}
      {@const p = c.p}
      {@const v = card.map((x) => verdict(x.id)).find((x) => x?.verdict === 'not yet') ?? verdict(c.id)}
      <li>
        <b class="mono">{n + 1}</b>
        <Collapsible class="card">
          <button class="name" onclick={() => onchange(c.i, c.part)}>{c.part_name}</button>
          {#if card.length === 1}<span class="soft small">{kinds[c.kind]} on {c.address}</span>
          {:else}
            <Collapsible.Trigger class="soft small unfold"
              >{kinds[c.kind]} in {card.length} places on {new Set(card.map((x) => x.page_id)).size} pages</Collapsible.Trigger
            >
          {/if}
          {#if c.kind === 'picture' || (c.kind === 'video' && c.after_picture)}
            <div class="pics">
              {#if c.before_picture}
                <div class="gone">
                  <Placed src={new URL(c.before_picture, p.live_url).href} alt="until now" shape={c.shape} />
                </div>
              {/if}
              <div class="new">
                <Placed src={new URL(c.after_picture, p.draft_url).href} alt="after" shape={c.shape} />
              </div>
            </div>
            <span class="small"
              >{c.kind === 'video' ? c.say : `${c.before_picture ? '' : 'new, '}${c.picture_say}`}</span
            >
            {#if c.files}<FilesChanged files={c.files} at={fileOf(number, c.id)} />{/if}
          {:else if c.files}
            {#if c.words.some((r) => r.is !== 'same')}<p><Runs runs={c.words} /></p>{/if}
            <FilesChanged files={c.files} at={fileOf(number, c.id)} />
          {:else if c.kind === 'section' || !inWords(c)}
            <p class="small">{c.say}</p>
          {:else}
            <p><Runs runs={c.words} /></p>
          {/if}
          {#each card as x (x.id)}
            {#if x.on_pages + x.left_on > 1}<PagesOf {number} change={x} onchange={onpages} />{/if}
          {/each}
          {#if card.length > 1}
            <Collapsible.Content>
              <ul class="small">
                {#each card as x (x.id)}
                  <li>
                    <button class="mono" onclick={() => onchange(x.i, x.part)}>{x.address}</button>
                    <span><Runs runs={x.words} /></span>
                  </li>
                {/each}
              </ul>
            </Collapsible.Content>
          {/if}
          {#if v?.verdict === 'right'}<p class="small is-live">the client: right</p>{/if}
          {#if v?.verdict === 'not yet'}<p class="said look small">the client: not yet. {v.note}</p>{/if}
        </Collapsible>
      </li>
    {/each}
  </ol>
</section>

<style>
  h2 {
    font-size: var(--size-l);
    padding: var(--step-3) var(--step-3h) var(--step-2);
  }
  section :global(.card) {
    display: block;
  }
  section :global(.unfold) {
    text-decoration: underline;
    cursor: pointer;
  }
  ul {
    margin-top: var(--step-1h);
    display: grid;
    gap: var(--step-1h);
  }
  ul button {
    text-decoration: underline;
    cursor: pointer;
  }
  ul li {
    display: block;
  }
  ol > li {
    display: grid;
    grid-template-columns: 22px minmax(0, 1fr);
    gap: var(--step-2);
    padding: var(--step-2) var(--step-3h);
    border-top: 1px solid var(--hem);
    font-size: var(--size-m);
  }
  .mono {
    padding-top: var(--step);
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
    gap: var(--step-2);
    margin: var(--step-1h) 0;
  }
  .pics {
    align-items: start;
  }
  .new {
    outline: 2px solid var(--moss);
  }
  .gone {
    outline: 2px solid var(--madder);
  }
</style>
