<script lang="ts">
  import { untrack } from 'svelte';
  import Runs from '../../parts/Runs.svelte';
  import type { EditorProps } from './editors';
  import Looks from './Looks.svelte';
  import { isMarkdown } from './picture/lay';
  import SaidOf from './SaidOf.svelte';

  /** The words of a part in their editor, with those of the run that it is in; and what they were. */
  let props: EditorProps = $props();
  const { bench, desk, request, part, wish, act } = $derived(props);

  const field = untrack(() => desk.field({ do: 'markup', part: part.id, html: '' }));
  const change = $derived(bench.changes.find((c) => c.id === part.change_id));
  const hand = $derived(desk.hand);
</script>

{#if hand}
  {#await import('./RunOf.svelte') then { default: RunOf }}
    <RunOf {...props} {hand} />
  {/await}
{:else}
  {#await import('../../parts/words/WordsEditor.svelte') then { default: WordsEditor }}
    <WordsEditor
      html={field.now}
      brought={field.brought}
      onheld={(html) => field.held(html)}
      site={bench.page.site_id}
      page={bench.page.id}
      underline={!isMarkdown(bench)}
      said={desk.rules.said.filter((f) => f.part === part.id)}
      links={part.kind !== 'link' && part.kind !== 'button'}
      onchange={(html) => field.type(html, wish)}
      onblur={() => desk.settle()}
      onblocks={part.forms.length ? (html) => act({ do: 'insert', part: part.id, where: 'after', html }) : undefined}
      focuses={desk.focuses}
      cursor={() => desk.takeCursor()}
      form={part.form}
      forms={part.forms}
      onform={(form) => act({ do: 'form', part: part.id, form })}
    >
      {#snippet styles(onchosen)}<Looks {bench} {request} {part} {act} {onchosen} />{/snippet}
    </WordsEditor>
  {/await}
{/if}
<SaidOf number={request.row.number} {desk} {part} />
{#if change && change.kind === 'words' && change.words.length}
  <p class="was small">
    {#if change.words.some((r) => r.is !== 'same')}<span class="soft">live now, then:</span>
      <Runs runs={change.words} />{:else}{change.say}{/if}
  </p>
{/if}

<style>
  .was {
    max-height: 120px;
    overflow: auto;
  }
</style>
