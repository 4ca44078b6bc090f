<script lang="ts">
  import { answer, api, words, type Schemas } from '../../api/client';
  import { arrows } from '../../look/arrows';

  /** Finds a place on a site by page address, title or words that stand there. */
  let {
    site,
    siteName,
    seed,
    onplace,
  }: { site: number; siteName: string; seed: string; onplace: (page: number, part?: string) => void } = $props();

  let text = $state('');
  let found = $state<Schemas['Found'][] | undefined>();
  let problem = $state('');
  let asked = 0;

  $effect(() => {
    const q = text.trim();
    if (q.length < 2) {
      found = undefined;
      return;
    }
    const mine = ++asked;
    const timer = setTimeout(async () => {
      try {
        const got = await answer(api.GET('/find', { params: { query: { words: q, site } } }));
        if (mine === asked) found = got;
        problem = '';
      } catch (e) {
        problem = words(e);
      }
    }, 160);
    return () => clearTimeout(timer);
  });
</script>

<div role="group" aria-label="Find the place" use:arrows>
  <label class="field">
    <span>Where on {siteName}?</span>
    <input class="box" bind:value={text} placeholder="words that stand there now, a title, or the end of the address" />
  </label>
  {#if seed && !text}
    <p class="soft small hint">The wish says “{seed.length > 70 ? seed.slice(0, 70) + '…' : seed}”.</p>
  {/if}
  {#if problem}<p class="said">{problem}</p>{/if}
  {#if found}
    <ul aria-live="polite">
      {#each found as f, i (i)}
        <li>
          <button onclick={() => onplace(f.page_id, f.part || undefined)}>
            <span class="where"
              ><span class="mono">{f.address}</span>
              <span class="soft small">{f.part ? f.part_name : `the page “${f.title}”`}</span></span
            >
            {#if f.around.length}
              <!-- prettier-ignore -->
              <span class="around">{#each f.around as r, k (k)}{#if r.is === 'new'}<mark>{r.text}</mark>{:else}{r.text}{/if}{/each}</span>
            {/if}
          </button>
        </li>
      {:else}
        <li class="soft small none">
          Nothing of that kind stands on the site. Try fewer words, or the page’s address.
        </li>
      {/each}
    </ul>
  {/if}
</div>

<style>
  ul {
    border: 1px solid var(--hem);
    border-top: 0;
    max-height: 300px;
    overflow: auto;
  }
  li + li {
    border-top: 1px solid var(--hem);
  }
  li button {
    width: 100%;
    text-align: left;
    padding: 7px 10px;
    display: grid;
    gap: 2px;
    cursor: pointer;
  }
  li button:hover,
  li button:focus-visible {
    background: var(--indigo-wash);
    outline-offset: -2px;
  }
  .where {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  mark {
    background: var(--weld-wash);
    color: inherit;
    font-weight: 600;
  }
  .none,
  .hint {
    padding: 6px 2px;
  }
  .none {
    padding: 8px 10px;
  }
</style>
