<script lang="ts">
  import { untrack } from 'svelte';
  import { type Schemas } from '../../api/client';
  import { zoneOf } from '../../api/session.svelte';
  import { complain } from '../../look/toast';
  import Runs from '../../parts/Runs.svelte';
  import type { BenchPage } from './desk.svelte';
  import PartActs from './PartActs.svelte';
  import PictureSwap from './PictureSwap.svelte';
  import SameWords from './SameWords.svelte';
  import StylePick from './StylePick.svelte';
  import TableActs from './TableActs.svelte';
  import Wordings from './Wordings.svelte';

  let {
    bench,
    desk,
    request,
    part,
    wish,
    onchoose,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    request: Schemas['Request'];
    part: Schemas['Part'];
    wish?: number;
    onchoose: (id: string | undefined) => void;
  } = $props();

  const edit = untrack(() => part.edit); // from here on the field leads
  let href = $state(untrack(() => part.href));
  const parent = $derived(bench.parts.find((p) => p.id === part.parent));
  const next = $derived(bench.parts.find((p) => p.above === part.id));
  const change = $derived(bench.changes.find((c) => c.id === part.change_id));
  const kinds: Record<string, string> = { words: 'words', cell: 'table cell' };

  const cursor = untrack(() => desk.takeCursor());

  /** Makes a change and goes on in the part that it made, with the cursor so far, or as far as such words go, before its end. */
  async function act(f: Parameters<BenchPage['make']>[0], fromEnd?: number | string) {
    const own = part.id;
    try {
      onchoose(undefined);
      const made = await desk.make({ ...f, wish_id: wish });
      desk.cursor = made ? fromEnd : undefined;
      if (made ?? desk.problem) onchoose(made ?? own);
    } catch (e) {
      complain(e);
    }
  }
</script>

<article>
  <header>
    <h2>{part.name}</h2>
    <span class="soft small">{kinds[part.kind] ?? part.kind}</span>
    <button class="x" aria-label="Put the part down" onclick={() => onchoose(undefined)}>×</button>
  </header>
  {#if parent}<p class="small in">
      in <button onclick={() => onchoose(parent.id)}
        >the {kinds[parent.kind] ?? parent.kind} “{parent.name.replace(/[“”]/g, '')}”</button
      >
    </p>{/if}
  {#if part.shared}<p class="said look small">
      This part {part.shared}. What you change here is for this page only.
    </p>{/if}
  {#if part.locked}
    <p class="said look"><b>Locked.</b> {part.locked}</p>
  {:else}
    {#if ['heading', 'words', 'link', 'button', 'cell'].includes(part.kind)}
      {#await import('../../parts/words/WordsEditor.svelte') then { default: WordsEditor }}
        <WordsEditor
          html={edit}
          site={bench.page.site_id}
          page={bench.page.id}
          underline={!/\.(md|markdown)$/.test(bench.page.path)}
          links={part.kind !== 'link' && part.kind !== 'button'}
          onchange={(html) => desk.type({ do: 'markup', part: part.id, html, wish_id: wish })}
          onblur={() => desk.settle()}
          onblocks={(html) => act({ do: 'insert', part: part.id, where: 'after', html })}
          {cursor}
          onsplit={part.splits
            ? (html, rest, size) => act({ do: 'split', part: part.id, html, rest }, size || undefined)
            : undefined}
          onjoin={part.above ? (html, size) => act({ do: 'join', part: part.id, html }, size) : undefined}
          onjoinnext={next ? () => act({ do: 'join', part: next.id, html: next.edit }, next.edit) : undefined}
          form={part.form}
          forms={part.forms}
          onform={(form) => act({ do: 'form', part: part.id, form })}
        >
          {#snippet styles(onchosen)}
            <div class="more">
              <StylePick
                number={request.row.number}
                page={bench.page.id}
                part={part.id}
                onpick={(name) => act({ do: 'style', part: part.id, words: name })}
                {onchosen}
              />
              <Wordings
                number={request.row.number}
                page={bench.page.id}
                {part}
                zone={zoneOf(bench.page.site_id)}
                onback={(version) => act({ do: 'back', part: part.id, version })}
              />
            </div>
          {/snippet}
        </WordsEditor>
      {/await}
      {#if change && change.kind === 'words' && change.words.length}
        <p class="was small">
          {#if change.words.some((r) => r.is !== 'same')}<span class="soft">live now, then:</span>
            <Runs runs={change.words} />{:else}{change.say}{/if}
        </p>
      {/if}
    {/if}
    {#if change && change.kind === 'words'}
      <SameWords
        number={request.row.number}
        {change}
        page={bench.page.id}
        site={bench.page.site_id}
        onchanged={() => desk.again()}
      />
    {/if}
    {#if part.href}
      <label class="field">
        <span>Leads to</span>
        <input
          class="box"
          bind:value={href}
          oninput={() => desk.type({ do: 'attribute', name: 'href', part: part.id, words: href, wish_id: wish })}
          onblur={() => desk.flush()}
        />
      </label>
    {/if}
    {#if part.kind === 'cell'}<TableActs onact={(table) => act({ do: 'table', part: part.id, table })} />{/if}
    {#if part.kind === 'picture'}
      <PictureSwap {bench} {desk} {request} {part} {wish} />
    {/if}
    <PartActs {part} {act} />
    {#if change}
      <p class="small undo">
        <span class="is-kept">kept, not live</span>
        <button
          class="btn slim quiet"
          onclick={async () => {
            try {
              await desk.drop(change.id);
              onchoose(undefined);
            } catch (e) {
              complain(e);
            }
          }}>Undo this change</button
        >
      </p>
    {/if}
  {/if}
</article>

<style>
  article {
    padding: 10px 14px 12px;
    display: grid;
    grid-template-columns: minmax(0, 1fr);
    gap: 9px;
  }
  header {
    display: flex;
    gap: 10px;
    align-items: baseline;
  }
  h2 {
    font-size: 16px;
    flex: 1;
    overflow-wrap: anywhere;
  }
  .x {
    font-size: 18px;
    line-height: 1;
    padding: 2px 6px;
    cursor: pointer;
  }
  .in button {
    text-decoration: underline;
    cursor: pointer;
  }
  .in {
    margin-top: -6px;
    color: var(--ink-soft);
  }
  .more {
    display: flex;
    flex-wrap: wrap;
    gap: 0 6px;
  }
  .more > :global(div) {
    display: contents;
  }
  .more :global(:is(ul, ol, p)) {
    order: 1;
    flex-basis: 100%;
  }
  .was {
    max-height: 120px;
    overflow: auto;
  }
  .undo {
    display: flex;
    justify-content: space-between;
    align-items: center;
    border-top: 1px dashed var(--weld);
    padding-top: 6px;
  }
</style>
