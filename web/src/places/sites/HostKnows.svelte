<script lang="ts">
  import { answer, api, type Schemas } from '../../api/client';
  import { complain } from '../../look/toast';
  import { momentWords } from '../../look/time';

  /** What can be relied on with a site's host, and trying it anew. */
  let { site, onchange }: { site: Schemas['Site']; onchange: () => void } = $props();

  let busy = $state(false);
  let failed = $state(false);
  async function again(accept: boolean) {
    busy = true;
    try {
      await answer(
        api.POST('/sites/{site}/try', {
          params: { path: { site: site.id }, query: { accept_key: accept || undefined } },
        }),
      );
      failed = false;
      onchange();
    } catch (e) {
      failed = true;
      complain(e);
    } finally {
      busy = false;
    }
  }
</script>

<section class="sheet" class:look={site.host_reads_only && site.host_kind !== 'hand'} aria-label="The host">
  <div>
    {#each site.host_knows as say, i (i)}<p class="small">{say}</p>{:else}<p class="small soft">
        What the host honours has not been tried yet.
      </p>{/each}
  </div>
  <p class="acts">
    {#if site.host_tried_at}<span class="soft small">tried {momentWords(site.host_tried_at, site.zone)}</span>{/if}
    <button class="btn slim" onclick={() => again(false)} disabled={busy}
      >{busy ? 'Trying…' : 'Try the host again'}</button
    >
    {#if failed && site.host_kind === 'sftp'}<button class="btn slim" onclick={() => again(true)} disabled={busy}
        >Accept the new key</button
      >{/if}
  </p>
</section>

<style>
  section {
    padding: var(--step-3) var(--step-3h);
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    gap: var(--step-4);
    align-items: start;
  }
  .look {
    background: var(--weld-wash);
  }
  div {
    display: grid;
    gap: var(--step-1h);
    max-width: 84ch;
  }
  .acts {
    display: grid;
    gap: var(--step-2);
    justify-items: end;
  }
</style>
