<script lang="ts">
  import Segments from '../../../look/Segments.svelte';
  import { type Lay, percents } from './lay';

  /** How a picture lies among words: its side, its size, what stands below it, where a click leads. */
  let {
    lay,
    markdown,
    only = false,
    onlay,
  }: {
    lay: Lay;
    markdown: boolean;
    /** Its side and size alone. */
    only?: boolean;
    onlay: (lay: Lay) => void;
  } = $props();
  const set = (some: Partial<Lay>) => onlay({ ...lay, ...some });
</script>

{#if !markdown}
  <div class="row">
    <span class="small soft">lies</span>
    <Segments
      label="Side"
      choices={[
        { value: '', label: 'between' },
        { value: 'left', label: 'left' },
        { value: 'centre', label: 'centre' },
        { value: 'right', label: 'right' },
      ]}
      bind:value={
        () => lay.side, (side) => set({ side, percent: lay.percent || (side === 'left' || side === 'right' ? 40 : 0) })
      }
    />
  </div>
  <div class="row">
    <span class="small soft">wide</span>
    <input
      type="range"
      aria-label="Per cent of the width of the words, by a rule"
      min="10"
      max="100"
      step="5"
      value={lay.percent || 100}
      onchange={(e) => set({ percent: percents(Number(e.currentTarget.value)) })}
    />
    <span class="small"
      ><input
        class="box"
        type="number"
        aria-label="Per cent of the width of the words"
        min="10"
        max="100"
        value={lay.percent || 100}
        onchange={(e) => set({ percent: percents(Number(e.currentTarget.value)) })}
      /> %</span
    >
  </div>
{/if}
{#if !markdown && !only}
  <label class="field">
    <span>Caption</span>
    <input class="box" value={lay.caption} onchange={(e) => set({ caption: e.currentTarget.value })} />
  </label>
{/if}
{#if !only}
  <label class="field">
    <span>Title</span>
    <input class="box" value={lay.title} onchange={(e) => set({ title: e.currentTarget.value })} />
    <small>shown where it is pointed at; most pictures need none</small>
  </label>
  <label class="field">
    <span>A click leads to</span>
    <input class="box" value={lay.link} placeholder="nowhere" onchange={(e) => set({ link: e.currentTarget.value })} />
  </label>
{/if}

<style>
  .row {
    display: flex;
    gap: var(--step-2);
    align-items: center;
    justify-content: space-between;
  }
  input[type='range'] {
    flex: 1;
    accent-color: var(--indigo);
  }
  input[type='number'] {
    width: 62px;
    padding: var(--step-half) var(--step-1h);
  }
</style>
