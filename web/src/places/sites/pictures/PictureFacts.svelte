<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import { weight } from '../../../look/time';
  import Ask from '../../../parts/Ask.svelte';
  import { smallOf } from './pictures';

  /** One picture of a site: what it is, and each place that names it. */
  let {
    site,
    picture,
    going,
    onclose,
    onaway,
  }: {
    site: number;
    picture: Schemas['SitePicture'];
    /** It is being taken away. */
    going: boolean;
    onclose: () => void;
    onaway: () => void;
  } = $props();
  let asking = $state(false);
  const says: Record<string, string> = {
    unused: 'Nothing that Mendry reads names it.',
    'too heavy': 'It is too heavy for what is shown of it.',
    'too small': 'It is shown larger than it is.',
    'without text': 'It has no alternative text in a place that needs one.',
    twice: 'Another file is the same, point for point.',
  };
</script>

<aside class="sheet" aria-label="The {picture.kind ? 'file' : 'picture'}">
  <header>
    <h2 class="mono">{picture.path.split('/').at(-1)}</h2>
    <button class="x" aria-label="Put it down" onclick={onclose}>×</button>
  </header>
  {#if picture.said}<p class="said look small">{picture.said}</p>
  {:else if !picture.kind}<img src={smallOf(site, picture.path, 320)} alt="" />{/if}
  <p class="small">
    <span class="mono">/{picture.path}</span><br />
    {picture.width ? `${picture.width} × ${picture.height}, ` : picture.kind ? `${picture.kind}, ` : ''}{weight(
      picture.size,
    )}{picture.shown ? `, shown up to ${picture.shown} wide` : ''}
  </p>
  {#each picture.findings as f (f)}<p class="said look small">{says[f]}</p>{/each}
  {#each picture.twice as other (other)}<p class="small">the same as <span class="mono">/{other}</span></p>{/each}
  {#if picture.findings.includes('unused')}
    <p><button class="btn slim warn" disabled={going} onclick={() => (asking = true)}>Take it away</button></p>
    <Ask bind:open={asking} title="Take it away?" act="Take it away" onact={onaway}>
      <p>
        <span class="mono">/{picture.path}</span> goes from the live site as soon as everything was looked through for its
        name once more: pages, style sheets, scripts, and what is kept. If something names it, it stays.
      </p>
      <p>Mendry keeps it. It can be brought back to where it stood.</p>
    </Ask>
  {/if}
  {#if picture.uses.length}
    <h3>Used in {picture.uses.length} {picture.uses.length === 1 ? 'place' : 'places'}</h3>
    <ul class="small">
      {#each picture.uses as u, i (i)}
        <li>
          <span class="mono">{u.address}</span>{u.part ? `, ${u.part}` : ''}
          {#if u.shown}<span class="soft">, {u.shown} wide</span>{/if}
          {#if u.alt}<br /><span class="soft">“{u.alt}”</span>{:else if !u.says && !picture.kind}<br /><span
              class="is-stop">no alternative text</span
            >{/if}
        </li>
      {/each}
    </ul>
  {/if}
</aside>

<style>
  aside {
    flex: none;
    width: 300px;
    padding: var(--step-3) var(--step-3h);
    display: grid;
    gap: var(--step-2);
    position: sticky;
    top: var(--step-3);
  }
  header {
    display: flex;
    gap: var(--step-2);
    justify-content: space-between;
    align-items: baseline;
  }
  h2 {
    font-size: var(--size-m);
    overflow-wrap: anywhere;
  }
  h3 {
    font-size: var(--size-m);
  }
  .x {
    font-size: var(--size-h);
    line-height: 1;
    cursor: pointer;
  }
  img {
    width: 100%;
    max-height: 220px;
    object-fit: contain;
    background: var(--linen);
  }
  p {
    overflow-wrap: anywhere;
  }
  ul {
    display: grid;
    gap: var(--step-1h);
    max-height: 260px;
    overflow-y: auto;
  }
</style>
