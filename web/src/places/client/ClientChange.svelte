<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { inWords } from '../../parts/alike';
  import FilesChanged from '../../parts/FilesChanged.svelte';
  import Placed from '../../parts/Placed.svelte';
  import Runs from '../../parts/Runs.svelte';

  /** One change, or several that do the same on as many pages: answered once. */
  let {
    token,
    changes,
    open,
    said = $bindable(),
  }: {
    token: string;
    changes: Schemas['ClientChange'][];
    open: boolean;
    said: { verdict: Schemas['Verdict']; note: string };
  } = $props();
  const c = $derived(changes[0]!);
  const pages = $derived(new Set(changes.map((x) => x.page_title)).size);
  const earlier = $derived(changes.find((x) => x.earlier)?.earlier);
  /** It came, or it went, as a whole. */
  const home = $derived(c.page_title === 'Home page');
  const page = $derived(home ? 'the home page' : `the page ${c.page_title}`);
  const whole = $derived(c.kind === 'section' && !c.before_words !== !c.after_words);
  const short = $derived(c.kind === 'words' && c.before_words.length < 24 && c.after_words.length < 24);
  const what = $derived(
    {
      words: 'on',
      picture: 'the picture on',
      section: 'a section of',
      facts: 'about',
      file: 'a file on',
      video: 'a film on',
    }[c.kind],
  );
</script>

{#snippet fetch(files: Schemas['ChangeFile'][])}
  <FilesChanged {files} at={(n, before) => `/api/proof/${token}/changes/${c.id}/files/${n}?before=${before}`} />
{/snippet}

<article class="sheet" aria-label={c.place}>
  <h2>{c.place}</h2>
  {#if changes.length > 1}
    <details class="soft where">
      <summary>{pages > 1 ? `on ${pages} pages` : `in ${changes.length} places of ${page}`}</summary>
      <ul>
        {#each changes as x (x.id)}<li>{x.page_title}: {x.place}</li>{/each}
      </ul>
    </details>
  {:else if c.on_pages > 1}<p class="soft where">{what} {c.on_pages} pages, as on {home ? page : c.page_title}</p>
  {:else}<p class="soft where">{what} {page}</p>{/if}
  {#if c.wish}<p class="where asked">you asked: <i>{c.wish.trim()}</i></p>{/if}
  {#if earlier}
    <p class="text earlier" class:new={!earlier.same}>
      {#if earlier.verdict === 'not yet'}You said in round {earlier.round}: “{earlier.note}”
      {:else if earlier.same}You found this right in round {earlier.round}; it is as it was.
      {:else}You found this right in round {earlier.round}; it was changed since.{/if}
    </p>
  {/if}
  {#if c.kind === 'picture' || (c.kind === 'video' && c.after_picture)}
    <div class="two">
      {#if c.before_picture}
        <div><small>until now</small><Placed src={c.before_picture} alt="until now" shape={c.shape} /></div>
      {/if}
      <div>
        <small>{c.kind === 'video' ? 'its cover' : c.before_picture ? 'after' : 'new'}</small><Placed
          src={c.after_picture}
          alt="after"
          shape={c.shape}
        />
      </div>
    </div>
    {#if c.files}<div class="text">{@render fetch(c.files)}</div>
    {:else if c.kind === 'video'}<p class="text">{c.say}</p>{/if}
  {:else if c.files}
    <div class="text">
      {#if c.words.some((r) => r.is !== 'same')}<p><Runs runs={c.words} /></p>{/if}
      {@render fetch(c.files)}
    </div>
  {:else if whole}
    <p class="text whole">
      <small>{c.after_words ? 'new' : 'taken out'}</small>
      {#if c.after_words}<ins>{c.after_words}</ins>{:else}<del>{c.before_words}</del>{/if}
    </p>
  {:else if c.kind === 'section' || !inWords(c)}
    <p class="text">{c.say}</p>
  {:else if short}
    <div class="two">
      <div><small>until now</small>{c.before_words || '–'}</div>
      <div><small>after</small><b>{c.after_words || '–'}</b></div>
    </div>
  {:else}
    <p class="text"><Runs runs={c.words} /></p>
  {/if}
  {#if said.verdict === 'not yet'}
    <label class="note"
      ><span class="soft">say what should be different</span>
      <textarea
        class="box"
        rows="2"
        bind:value={() => said.note, (note) => (said = { ...said, note })}
        readonly={!open}
        maxlength="2000"></textarea></label
    >
  {/if}
  <div class="verdict" role="group" aria-label="Your answer to {c.place}">
    <button
      class="yes"
      disabled={!open}
      aria-pressed={said.verdict === 'right'}
      onclick={() => (said = { ...said, verdict: 'right' })}>{said.verdict === 'right' ? '✓ ' : ''}Right</button
    >
    <button
      class="no"
      disabled={!open}
      aria-pressed={said.verdict === 'not yet'}
      onclick={() => (said = { ...said, verdict: 'not yet' })}>{said.verdict === 'not yet' ? '✎ ' : ''}Not yet</button
    >
  </div>
</article>

<style>
  h2 {
    font-size: var(--size-l);
    padding: var(--step-3) var(--step-3h) var(--step-half);
    overflow-wrap: anywhere;
  }
  .where li {
    padding: var(--step-half) 0 0 var(--step-3h);
    overflow-wrap: anywhere;
  }
  summary {
    cursor: pointer;
  }
  .earlier {
    background: var(--moss-wash);
  }
  .earlier.new {
    background: var(--weld-wash);
  }
  .where {
    padding: 0 var(--step-3h) var(--step-2);
    font-size: var(--size-s);
  }
  .two,
  .verdict {
    display: grid;
    grid-template-columns: 1fr 1fr;
    border-top: 1px solid var(--hem);
  }
  .two > div {
    padding: var(--step-2) var(--step-3h);
    font-size: var(--size);
    overflow-wrap: anywhere;
  }
  .two > div + div,
  .verdict button + button {
    border-left: 1px solid var(--hem);
  }
  small {
    display: block;
    color: var(--ink-soft);
    font-size: var(--size-s);
  }
  .text {
    padding: var(--step-2) var(--step-3h);
    border-top: 1px solid var(--hem);
    font-size: var(--size);
  }
  .asked {
    overflow-wrap: anywhere;
  }
  .whole :is(ins, del) {
    white-space: pre-line;
    overflow-wrap: anywhere;
  }
  .note {
    display: block;
    padding: var(--step-2h) var(--step-3h);
    border-top: 1px solid var(--hem);
    font-size: var(--size-s);
  }
  .verdict button {
    padding: var(--step-3);
    font-weight: 600;
    cursor: pointer;
    min-height: 46px;
  }
  .verdict button:disabled {
    cursor: default;
  }
  .yes[aria-pressed='true'] {
    background: var(--moss-wash);
    color: var(--moss);
  }
  .no[aria-pressed='true'] {
    background: var(--weld-wash);
    color: var(--weld);
  }
</style>
