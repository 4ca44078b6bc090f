<script lang="ts">
  import Segments from '../../../look/Segments.svelte';
  import type { Picking } from './picking.svelte';

  /** How the picture stands, and how it is cut. */
  let { picking }: { picking: Picking } = $props();
  const degrees = $derived(
    `${picking.straighten > 0 ? '+' : picking.straighten < 0 ? '−' : ''}${Math.abs(picking.straighten).toFixed(1)}°`,
  );
</script>

{#if picking.fixed}
  <p class="soft small">
    {picking.told?.animated ? 'It moves' : 'It is no picture of points'}, so it goes out as it came: nothing is turned
    or cut.
  </p>
{:else}
  <div class="row">
    <label
      >straighten
      <input
        type="range"
        min="-15"
        max="15"
        step="0.5"
        bind:value={picking.straighten}
        oninput={() => picking.changed(true)}
      />
      <b class="mono">{degrees}</b></label
    >
    <span
      >quarter turn
      <button class="key" aria-label="A quarter turn to the left" onclick={() => picking.quarter(-1)}>[</button>
      <button class="key" aria-label="A quarter turn to the right" onclick={() => picking.quarter(1)}>]</button></span
    >
    <span
      >mirror <button
        class="key"
        aria-label="Mirror"
        aria-pressed={picking.flip === 'horizontal'}
        onclick={() => picking.mirror()}>X</button
      ></span
    >
    <Segments
      label="Cut"
      choices={[
        ...(picking.put ? [] : [{ value: 'place' as const, label: 'its place’s shape' }]),
        { value: 'free', label: 'by hand' },
        { value: 'whole', label: 'whole' },
      ]}
      bind:value={
        () => picking.cut,
        (cut) => {
          if (cut === 'free') picking.byHand = picking.kept;
          else picking.byHand = undefined;
          picking.cut = cut;
          picking.changed();
        }
      }
    />
  </div>
{/if}

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-2) var(--step-3);
    align-items: center;
    justify-content: center;
    font-size: var(--size-m);
  }
  label,
  span {
    display: flex;
    gap: var(--step-1h);
    align-items: center;
  }
  input {
    width: 190px;
    height: 26px;
    appearance: none;
    cursor: ew-resize;
    /* a rule with a mark for each degree, and a longer one at none */
    background:
      linear-gradient(var(--ink), var(--ink)) center bottom / 2px 14px no-repeat,
      repeating-linear-gradient(to right, var(--ink-soft) 0 1px, transparent 1px 6.3px) bottom / 100% 8px no-repeat,
      linear-gradient(var(--ink), var(--ink)) bottom / 100% 1px no-repeat;
  }
  input::-webkit-slider-thumb {
    appearance: none;
    width: 3px;
    height: 24px;
    background: var(--indigo);
    border-radius: 0;
  }
  input::-moz-range-thumb {
    width: 3px;
    height: 24px;
    border: 0;
    background: var(--indigo);
    border-radius: 0;
  }
  .mono {
    min-width: 6ch;
    font-size: var(--size-s);
  }
  .key {
    min-width: 24px;
    padding: 0 var(--step-1h);
    border: 1.5px solid var(--ink);
    border-radius: var(--radius);
    background: var(--paper);
    font-family: var(--mono);
    font-size: var(--size-s);
    line-height: 1.7;
    cursor: pointer;
  }
  .key:hover {
    background: var(--indigo-wash);
  }
  .key[aria-pressed='true'] {
    background: var(--ink);
    color: var(--white);
  }
</style>
