<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import { momentWords, weight } from '../../../look/time';

  /** Files of a site that were taken away and are kept, on their way, or just back. */
  let { away, onback }: { away: Schemas['TakenAway'][]; onback: (a: Schemas['TakenAway']) => void } = $props();
  const says = {
    going: 'going, still live',
    away: 'away, not live',
    coming: 'coming back, not live yet',
    back: 'back, live',
    stayed: 'stayed, live',
  };
</script>

<section aria-label="Taken away" class="sheet">
  <h2>Taken away</h2>
  <ul>
    {#each away as a (a.id)}
      <li>
        <span class="mono small">/{a.path}</span>
        <span class="small soft">{a.size ? weight(a.size) : ''}</span>
        <span class={['small', a.state === 'away' ? 'is-kept' : a.state === 'stayed' ? 'is-look' : 'is-live']}
          >{says[a.state]}</span
        >
        <span class="small soft">{a.by}, {momentWords(a.at)}</span>
        <span class="right">
          {#if a.state === 'away'}<button
              class="btn slim"
              aria-label="Bring back {a.path.split('/').at(-1)}"
              onclick={() => onback(a)}>Bring back</button
            >{/if}
        </span>
        {#if a.said}<p class="small" role="status">{a.said}</p>{/if}
      </li>
    {/each}
  </ul>
</section>

<style>
  section {
    padding: var(--step-3) var(--step-3h);
  }
  h2 {
    font-size: var(--size-l);
    margin-bottom: var(--step-1h);
  }
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 70px 190px 220px 110px;
    gap: var(--step-2h);
    align-items: center;
    padding: var(--step-1h) 0;
    border-top: 1px solid var(--hem);
  }
  li > :first-child {
    overflow-wrap: anywhere;
  }
  p {
    grid-column: 1 / -1;
  }
  .right {
    text-align: right;
  }
</style>
