<script lang="ts">
  import { Asked } from '../../api/asked.svelte';
  import { answer, api, type Schemas } from '../../api/client';
  import Fold from '../../look/Fold.svelte';
  import { momentWords } from '../../look/time';
  import Loaded from '../../parts/Loaded.svelte';

  /** Every wording that a part had on the live page; any of them comes back with one act. */
  let {
    number,
    page,
    part,
    zone,
    onback,
  }: { number: number; page: number; zone?: string; part: Schemas['Part']; onback: (version: string) => void } =
    $props();
  const wordings = new Asked(() => {
    const params = { path: { number, page }, query: { part: part.id } };
    return answer(api.GET('/requests/{number}/bench/{page}/history', { params }));
  });
</script>

<Fold title="Earlier wordings" onopen={() => wordings.again()}>
  <Loaded of={wordings} small say="Going through what was published…">
    {#snippet children(all)}
      <ol>
        {#each all as w (w.version)}
          <li>
            <p>{w.words || 'no words'}</p>
            <p class="small soft">
              {#if w.at}since {momentWords(w.at, zone)},
              {/if}{w.say}{#if w.who}, {w.who}{/if}
              {#if w.words !== part.text}
                <button class="btn slim" onclick={() => onback(w.version)}>Bring back</button>
              {/if}
            </p>
          </li>
        {:else}
          <li class="small soft">This part is new in the draft; it had no other words.</li>
        {/each}
      </ol>
    {/snippet}
  </Loaded>
</Fold>

<style>
  ol {
    margin-top: var(--step-1h);
    max-height: 190px;
    overflow: auto;
  }
  li {
    padding: var(--step-1h) 0 var(--step-1h) var(--step-2h);
    border-left: 2px solid var(--hem-strong);
    overflow-wrap: anywhere;
  }
  li:first-child {
    border-color: var(--moss);
  }
</style>
