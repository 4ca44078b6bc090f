<script lang="ts">
  import { Asked } from '../api/asked.svelte';
  import { Doing } from '../look/doing.svelte';
  import { answer, api, type Schemas } from '../api/client';
  import Fold from '../look/Fold.svelte';
  import Loaded from './Loaded.svelte';

  /** On which pages a change of a shared part is made, and on which it is not, with why; which of them can still be said. */
  let { number, change, onchange }: { number: number; change: Schemas['Change']; onchange?: () => void } = $props();

  const path = $derived({ path: { number, change: change.id } });
  const asked = new Asked(() => answer(api.GET('/requests/{number}/changes/{change}/pages', { params: path })));
  const kept = $derived(change.state === 'kept');
  const doing = new Doing();

  const choose = (page: Schemas['ChangePage'], made: boolean) =>
    doing.run(async () => {
      asked.take(
        await answer(
          api.POST('/requests/{number}/changes/{change}/pages', {
            params: path,
            body: { page_id: page.page_id, made },
          }),
        ),
      );
      onchange?.();
    });
  const title = $derived(
    `on ${change.on_pages} pages${change.left_on ? `, ${change.left_on} left as ${change.left_on === 1 ? 'it is' : 'they are'}` : ''}`,
  );
</script>

<Fold {title} look="pages-of small" onopen={() => void asked.again()}>
  <Loaded of={asked} small>
    {#snippet children(got)}
      {#if got.coming}<p class="small soft" role="status">It is still being brought to {got.coming} of them.</p>{/if}
      <ul class="small" aria-label="Pages">
        {#each got.left as p (p.page_id)}
          <li class="left">
            <a class="mono" href="/requests/{number}/bench/{p.page_id}">{p.address}</a>
            <span>left: {p.why}</span>
            {#if kept}<button
                class="plain"
                aria-label="Change it there too: {p.address}"
                disabled={doing.busy}
                onclick={() => choose(p, true)}>Change it there too</button
              >{/if}
          </li>
        {/each}
        <li><span class="mono">{change.address}</span> <span class="soft">here</span></li>
        {#each got.pages as p (p.page_id)}
          <li>
            <a class="mono" href="/requests/{number}/bench/{p.page_id}">{p.address}</a>
            {#if kept}<button
                class="plain"
                aria-label="Leave it: {p.address}"
                disabled={doing.busy}
                onclick={() => choose(p, false)}>Leave it</button
              >{/if}
          </li>
        {/each}
      </ul>
    {/snippet}
  </Loaded>
</Fold>

<style>
  :global(.pages-of) {
    text-decoration: underline;
    cursor: pointer;
  }
  ul {
    max-height: 190px;
    overflow: auto;
    margin-top: var(--step);
  }
  li {
    display: flex;
    flex-wrap: wrap;
    gap: 0 var(--step-2);
    padding: var(--step-half) 0;
    overflow-wrap: anywhere;
    border: 0;
  }
  .plain {
    margin-left: auto;
    text-decoration: underline;
    cursor: pointer;
  }
</style>
