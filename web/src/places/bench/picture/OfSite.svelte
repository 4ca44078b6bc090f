<script lang="ts">
  import { Asked } from '../../../api/asked.svelte';
  import { answer, api } from '../../../api/client';
  import { counted, smallOf } from '../../sites/pictures/pictures';

  /** The site's own pictures, to take one from. */
  let { site, current, onpick }: { site: number; current?: string; onpick: (path: string) => void } = $props();
  const asked = new Asked(() => answer(api.GET('/sites/{site}/pictures', { params: { path: { site } } })));
  $effect(() => {
    void site;
    asked.again();
  });
  let sought = $state('');
  const most = 24; // that are shown at once
  const found = $derived((asked.got?.pictures ?? []).filter((p) => !p.said && p.width && counted(p, sought)));
</script>

<input
  class="box"
  type="search"
  aria-label="Search the site’s pictures"
  placeholder="file, page, words"
  bind:value={sought}
/>
<ul>
  {#each found.slice(0, most) as p (p.path)}
    <li>
      <button
        aria-pressed={current === p.path}
        title="/{p.path}, {p.width} × {p.height}"
        onclick={() => onpick(p.path)}
      >
        <img src={smallOf(site, p.path, 160)} alt="" loading="lazy" />
        <span class="small">{p.path.split('/').at(-1)}</span>
      </button>
    </li>
  {/each}
</ul>
<p class="small soft">
  {#if !asked.got}The site’s pictures are asked for…{:else if !found.length}No picture of the site is like that.{:else if found.length > most}{found.length -
      most} more: search for them.{/if}
</p>

<style>
  ul {
    display: grid;
    grid-template-columns: repeat(4, minmax(0, 1fr));
    gap: var(--step-1h);
    max-height: 230px;
    overflow-y: auto;
  }
  button {
    display: block;
    width: 100%;
    padding: var(--step-half);
    border: 2px solid transparent;
    text-align: left;
    cursor: pointer;
  }
  button[aria-pressed='true'] {
    border-color: var(--indigo);
  }
  button:hover {
    background: var(--indigo-wash);
  }
  img {
    width: 100%;
    height: 46px;
    object-fit: cover;
    background: var(--linen);
  }
  span {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
