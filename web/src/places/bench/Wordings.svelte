<script lang="ts">
  import { answer, api, words, type Schemas } from '../../api/client';
  import { momentWords } from '../../look/time';

  /** Every wording that a part had on the live page; any of them comes back with one act. */
  let {
    number,
    page,
    part,
    zone,
    onback,
  }: { number: number; page: number; zone?: string; part: Schemas['Part']; onback: (version: string) => void } =
    $props();
  let open = $state(false);
  let all = $state<Schemas['Wording'][] | undefined>();
  let problem = $state('');

  async function show() {
    open = !open;
    if (!open) return;
    try {
      all = await answer(
        api.GET('/requests/{number}/bench/{page}/history', {
          params: { path: { number, page }, query: { part: part.id } },
        }),
      );
      problem = '';
    } catch (e) {
      problem = words(e);
    }
  }
</script>

<div>
  <button class="btn slim quiet" aria-expanded={open} onclick={show}>Earlier wordings</button>
  {#if open}
    {#if problem}<p class="said small" role="alert">{problem}</p>{/if}
    {#if all}
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
    {:else if !problem}<p class="small soft" role="status">Going through what was published…</p>{/if}
  {/if}
</div>

<style>
  ol {
    margin-top: 6px;
    max-height: 190px;
    overflow: auto;
  }
  li {
    padding: 5px 0 5px 10px;
    border-left: 2px solid var(--hem-strong);
    overflow-wrap: anywhere;
  }
  li:first-child {
    border-color: var(--moss);
  }
</style>
