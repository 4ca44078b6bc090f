<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import Files from '../../../look/Files.svelte';
  import Segments from '../../../look/Segments.svelte';
  import { complain } from '../../../look/toast';
  import type { BenchPage } from '../desk.svelte';
  import OfSite from '../picture/OfSite.svelte';
  import { type From, small } from '../picture/picking.svelte';

  /** What a film shows before it is asked for: a picture of the request or of the site. */
  let {
    desk,
    request,
    cover,
    onpick,
  }: {
    desk: BenchPage;
    request: Schemas['Request'];
    cover?: Schemas['PicturePick'];
    onpick: (c: Schemas['PicturePick']) => void;
  } = $props();

  let where = $state<'request' | 'site'>('request');
  let coming = $state(false);
  async function add([f]: File[]) {
    if (!f) return;
    coming = true;
    try {
      onpick({ attachment_id: (await desk.brought.add(f)).id });
    } catch (e) {
      complain(e);
    } finally {
      coming = false;
    }
  }
</script>

<div role="group" aria-label="Cover">
  <header>
    <b>Cover</b>
    <Segments
      label="Where the cover is from"
      choices={[
        { value: 'request', label: 'the request' },
        { value: 'site', label: 'this site' },
      ]}
      bind:value={where}
    />
  </header>
  {#if cover}
    <p class="now">
      <img src={small(request.row.number, cover as From, 320)} alt="The cover" />
      <small class="soft">It is cut to 16:9 for the page.</small>
    </p>
  {/if}
  {#if where === 'site'}
    <OfSite site={request.row.site_id} current={cover?.path} onpick={(path) => onpick({ path })} />
  {:else}
    <ul>
      {#each desk.brought.pictures(request) as a (a.id)}
        <li>
          <button
            aria-pressed={cover?.attachment_id === a.id}
            title={a.name}
            onclick={() => onpick({ attachment_id: a.id })}
          >
            <img src={small(request.row.number, { attachment_id: a.id }, 160)} alt={a.name} />
          </button>
        </li>
      {/each}
    </ul>
    <Files label="A picture of this machine" most={1} disabled={coming} onfiles={add} />
  {/if}
</div>

<style>
  div {
    display: grid;
    gap: var(--step-1h);
  }
  header,
  .now {
    display: flex;
    gap: var(--step-2);
    align-items: center;
    justify-content: space-between;
  }
  .now img {
    width: 128px;
    aspect-ratio: 16/9;
    object-fit: cover;
  }
  .now {
    justify-content: start;
  }
  ul {
    display: grid;
    grid-template-columns: repeat(4, minmax(0, 1fr));
    gap: var(--step-half);
  }
  button {
    display: block;
    width: 100%;
    padding: var(--step-half);
    border: 2px solid transparent;
    cursor: pointer;
  }
  button[aria-pressed='true'] {
    border-color: var(--indigo);
  }
  li img {
    width: 100%;
    height: 40px;
    object-fit: cover;
  }
</style>
