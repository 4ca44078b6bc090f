<script lang="ts" module>
  /** Stays open while one goes from part to part, and when the part gets another name by what is chosen. */
  const fold = $state({ open: false });
</script>

<script lang="ts">
  import { untrack } from 'svelte';
  import { Asked } from '../../../api/asked.svelte';
  import { answer, api } from '../../../api/client';
  import Fold from '../../../look/Fold.svelte';
  import Loaded from '../../../parts/Loaded.svelte';
  import type { EditorProps } from '../editors';

  /** The icons in a part, each changed for another that the site has. They are drawn by the site itself, in a frame under the buttons. */
  let { bench, request, part, act }: EditorProps = $props();
  const side = 44; // of a cell of the sheet, as the server draws it
  const columns = 8;
  let at = $state(0);
  const icons = new Asked(() =>
    answer(
      api.GET('/requests/{number}/bench/{page}/icons', {
        params: { path: { number: request.row.number, page: bench.page.id }, query: { part: part.id, at } },
      }),
    ),
  );
  $effect(() => {
    void [part.id, bench.draft, at];
    if (part.iconic) untrack(() => icons.again());
  });
  const all = $derived(icons.got?.choices ?? []);
  const now = $derived(icons.got?.in[at]?.key);
  const sheet = $derived.by(() => {
    const of = { page: `${bench.page.id}`, part: part.id, at: `${at}`, draft: bench.draft };
    return new URL(`/.mendry/icons?${new URLSearchParams(of)}`, bench.draft_url).href;
  });
  const rows = $derived(Math.ceil(all.length / columns));
</script>

{#if part.iconic && icons.got?.in.length}
  <Fold title={icons.got.in.length > 1 ? 'Icons' : 'Icon'} bind:open={fold.open}>
    <Loaded of={icons} small>
      {#snippet children(got)}
        {#if got.in.length > 1}
          <p class="which" role="group" aria-label="Which icon">
            {#each got.in as icon, i (i)}
              <button class="btn slim" aria-pressed={i === at} onclick={() => (at = i)}
                >{i + 1}{icon.name && ` ${icon.name}`}</button
              >
            {/each}
          </p>
        {/if}
        <div class="sheet" style:height="{Math.min(rows, 5) * side}px" role="group" aria-label="Icons of this site">
          <div style:height="{rows * side}px">
            <iframe src={sheet} title="Icons as the site draws them" tabindex="-1" aria-hidden="true" sandbox=""
            ></iframe>
            {#each all as icon, i (icon.key)}
              <button
                style:left="{(i % columns) * side}px"
                style:top="{Math.floor(i / columns) * side}px"
                aria-pressed={icon.key === now}
                aria-label={icon.name || `Drawing ${i + 1}`}
                title={icon.name}
                onclick={() => icon.key !== now && act({ do: 'icon', part: part.id, at, choice: icon.key })}
              ></button>
            {/each}
          </div>
        </div>
        <p class="small soft">
          {all.length === 1
            ? 'The site has no other icon of this kind.'
            : 'Those of this site. The one that stands there now is marked.'}
        </p>
      {/snippet}
    </Loaded>
  </Fold>
{/if}

<style>
  .which {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step);
    margin-bottom: var(--step-1h);
  }
  .sheet {
    overflow: auto;
    border: 1px solid var(--hem);
    background: #fff;
    width: fit-content;
    max-width: 100%;
  }
  .sheet > div {
    position: relative;
    width: 352px;
  }
  iframe {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    border: 0;
    pointer-events: none;
  }
  .sheet button {
    position: absolute;
    width: 44px;
    height: 44px;
    border: 2px solid transparent;
    background: none;
    cursor: pointer;
  }
  .sheet button:hover {
    border-color: var(--hem-strong);
  }
  .sheet button[aria-pressed='true'] {
    border-color: var(--indigo);
    box-shadow: inset 0 -5px var(--indigo);
  }
  p {
    margin-top: var(--step-1h);
  }
</style>
