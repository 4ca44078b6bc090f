<script lang="ts" module>
  /** Stays open while one goes from part to part, and when the part gets another name by what is chosen. */
  const fold = $state({ open: false });
</script>

<script lang="ts">
  import { Asked } from '../../../api/asked.svelte';
  import { answer, api, type Schemas } from '../../../api/client';
  import Fold from '../../../look/Fold.svelte';
  import Loaded from '../../../parts/Loaded.svelte';
  import type { EditorProps } from '../editors';
  import { isMarkdown } from '../picture/lay';
  import { titles } from './aspects';
  import LookChoice from './LookChoice.svelte';

  /** How the site makes parts like this one look, and which of it this one carries: chosen, or taken off again. */
  let { bench, request, part, act }: EditorProps = $props();
  const looks = new Asked(() =>
    answer(
      api.GET('/requests/{number}/bench/{page}/looks', {
        params: { path: { number: request.row.number, page: bench.page.id }, query: { part: part.id } },
      }),
    ),
  );
  $effect(() => {
    void [part.id, bench.draft];
    if (fold.open) looks.again();
  });
  type Look = Schemas['PartLook'];
  const choose = (l: Look) => act({ do: 'look', part: part.id, choice: l.key, ...(l.on && { off: true }) });
  const kinds = (all: Look[]) =>
    (Object.keys(titles) as Look['aspect'][])
      .map((aspect) => ({ aspect, all: all.filter((l) => l.aspect === aspect) }))
      .filter((k) => k.all.length);
</script>

{#if !isMarkdown(bench)}
  <Fold title="Look" bind:open={fold.open}>
    <Loaded of={looks} small say="Reading the site’s style sheets…">
      {#snippet children(all)}
        {#each kinds(all) as kind (kind.aspect)}
          <fieldset>
            <legend class="small soft">{titles[kind.aspect]}</legend>
            <div class="choices">
              {#each kind.all as l (l.key)}<LookChoice look={l} onchoose={() => choose(l)} />{/each}
            </div>
          </fieldset>
        {:else}
          <p class="small soft">The site’s style sheets have no other look for it.</p>
        {/each}
        {#if all.length}
          <p class="small soft">As this site does it itself. What is marked is on; choose it again to take it off.</p>
        {/if}
      {/snippet}
    </Loaded>
  </Fold>
{/if}

<style>
  fieldset {
    margin-top: var(--step-2);
    border: 0;
    padding: 0;
    min-width: 0;
  }
  .choices {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(132px, 1fr));
    gap: var(--step);
    max-height: 212px;
    overflow: auto;
  }
  p {
    margin-top: var(--step-1h);
  }
</style>
