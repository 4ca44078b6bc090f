<script lang="ts">
  import { untrack } from 'svelte';
  import { zoneOf } from '../../api/session.svelte';
  import Runs from '../../parts/Runs.svelte';
  import type { EditorProps } from './editors';
  import StylePick from './StylePick.svelte';
  import Wordings from './Wordings.svelte';

  /** The words of a part in their editor, and what they were. */
  let { bench, desk, request, part, wish, act }: EditorProps = $props();

  const edit = untrack(() => part.edit); // from here on the field leads
  const cursor = untrack(() => desk.takeCursor());
  const next = $derived(bench.parts.find((p) => p.above === part.id));
  const change = $derived(bench.changes.find((c) => c.id === part.change_id));
</script>

{#await import('../../parts/words/WordsEditor.svelte') then { default: WordsEditor }}
  <WordsEditor
    html={edit}
    site={bench.page.site_id}
    page={bench.page.id}
    underline={!/\.(md|markdown)$/.test(bench.page.path)}
    links={part.kind !== 'link' && part.kind !== 'button'}
    onchange={(html) => desk.type({ do: 'markup', part: part.id, html }, wish)}
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
          onpick={(name) => act({ do: 'style', part: part.id, class: name })}
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

<style>
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
</style>
