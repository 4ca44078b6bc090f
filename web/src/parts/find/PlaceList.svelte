<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { placeKey } from './places';

  /** Places where the same words stand, to be chosen from. */
  let {
    places,
    picked = $bindable(),
    busy,
    page,
    number,
  }: {
    places: Schemas['ElsewherePlace'][];
    picked: string[];
    busy: boolean;
    page?: number;
    /** The request on whose bench a place is looked at. */
    number: number;
  } = $props();
</script>

<ul>
  {#each places as p (placeKey(p))}
    <li>
      <label>
        <input type="checkbox" bind:group={picked} value={placeKey(p)} disabled={!!p.locked || busy} />
        <span>
          <span class="where" id="where-{p.page_id}-{p.part}"
            ><b>{p.page_id === page ? 'This page' : p.title || p.address}</b>
            <span class="mono soft">{p.page_id === page ? '' : p.address}</span></span
          >
          <span class="soft small under"
            >{p.locked ? 'locked: ' : ''}{p.part_name}{p.heading && p.heading !== p.part_name
              ? `, under “${p.heading}”`
              : ''}{p.sure ? '' : ' · may mean something else'}</span
          >
          <!-- prettier-ignore -->
          <span class="small">{#each p.around as r, i (i)}{#if r.is === 'gone'}<mark>{r.text}</mark>{:else}{r.text}{/if}{/each}</span>
        </span>
      </label>
      {#if !p.locked}<a
          class="small look"
          href="/requests/{number}/bench/{p.page_id}?part={p.part}"
          aria-label="look at it"
          aria-describedby="where-{p.page_id}-{p.part}">look</a
        >{/if}
    </li>
  {/each}
</ul>

<style>
  ul {
    max-height: 260px;
    overflow: auto;
  }
  .where,
  .under {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  label > span {
    min-width: 0;
  }
  li {
    display: flex;
    gap: var(--step-2);
    align-items: baseline;
  }
  label {
    flex: 1;
    min-width: 0;
    display: flex;
    gap: var(--step-2);
    padding: var(--step) 0;
    align-items: baseline;
    cursor: pointer;
  }
  .look {
    text-decoration: underline;
  }
  mark {
    background: var(--weld-wash);
    color: inherit;
    font-weight: 600;
  }
</style>
