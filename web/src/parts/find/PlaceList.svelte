<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { placeKey } from './places';

  /** Places where the same words stand, to be chosen from. */
  let {
    places,
    picked = $bindable(),
    busy,
    page,
  }: { places: Schemas['ElsewherePlace'][]; picked: string[]; busy: boolean; page?: number } = $props();
</script>

<ul>
  {#each places as p (placeKey(p))}
    <li>
      <label>
        <input type="checkbox" bind:group={picked} value={placeKey(p)} disabled={!!p.locked || busy} />
        <span>
          <span class="mono">{p.page_id === page ? 'this page' : p.address}</span>
          <span class="soft small">{p.locked ? 'locked' : p.part_name}</span><br />
          <!-- prettier-ignore -->
          <span class="small">{#each p.around as r, i (i)}{#if r.is === 'gone'}<mark>{r.text}</mark>{:else}{r.text}{/if}{/each}</span>
        </span>
      </label>
    </li>
  {/each}
</ul>

<style>
  ul {
    max-height: 260px;
    overflow: auto;
  }
  label {
    display: flex;
    gap: 8px;
    padding: 3px 0;
    align-items: baseline;
    cursor: pointer;
  }
  mark {
    background: var(--weld-wash);
    color: inherit;
    font-weight: 600;
  }
</style>
