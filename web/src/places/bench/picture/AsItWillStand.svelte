<script lang="ts">
  import { draw } from './geometry';
  import type { Picking } from './picking.svelte';
  import { windows, type Place } from './places';

  /** The picture in its place, in windows of three widths. */
  let {
    picking,
    img,
    busy,
    ontake,
    onleave,
  }: {
    picking: Picking;
    img?: HTMLImageElement;
    busy: boolean;
    ontake: () => void;
    onleave: () => void;
  } = $props();

  const tall = 62; // px that the highest of them takes
  const most = 210; // px that the widest takes
  const places = $derived(
    [...windows]
      .reverse()
      .map((at) => picking.places()?.find((p) => p.at === at))
      .filter((p) => !!p),
  );
  /** A place that follows its picture has the picture's shape. */
  const heightOf = (p: Place) =>
    p.own ? p.height : picking.kept.width ? (p.width * picking.kept.height) / picking.kept.width : p.height;
  const by = $derived(
    Math.min(tall / Math.max(1, ...places.map(heightOf)), most / Math.max(1, ...places.map((p) => p.width))),
  );
  let canvases = $state<(HTMLCanvasElement | undefined)[]>([]);
  $effect(() => {
    places.forEach((_, i) => {
      const canvas = canvases[i];
      if (!canvas || !img) return;
      canvas.width = Math.round(Math.min(picking.kept.width, 420));
      canvas.height = Math.max(1, Math.round((canvas.width * picking.kept.height) / (picking.kept.width || 1)));
      draw(canvas, img, picking.size, picking.stand, picking.kept);
    });
  });
  const stops = $derived(
    picking.told?.findings.some((f) => f.level === 'stop' && f.rule !== 'picture-alternative') ?? false,
  );
</script>

<footer>
  <h3>{places.length || !picking.put ? 'As it will stand' : 'A new picture'}</h3>
  {#each places as p, i (p.at)}
    <figure>
      <canvas
        bind:this={canvases[i]}
        style:width="{Math.max(8, p.width * by)}px"
        style:height="{Math.max(8, heightOf(p) * by)}px"
        style:object-fit={p.fit}
        aria-hidden="true"
      ></canvas>
      <figcaption class="mono">{p.at}</figcaption>
    </figure>
  {/each}
  <p class="soft small">
    {#if places.length}measured on the draft just now{:else if picking.put}how large it is shown is measured when it
      stands there{:else}its place is being measured…{/if}
  </p>
  {#if !picking.says && picking.told}<p class="small is-stop">Say what it shows, or that it is an ornament.</p>{/if}
  {#if stops}<p class="small is-stop">It stops publishing as it is.</p>{/if}
  <div>
    <button class="btn quiet" onclick={onleave}>Leave it</button>
    <button class="btn go" disabled={busy || !picking.told || !!picking.problem || !picking.says} onclick={ontake}>
      {busy ? 'It is made…' : 'Take this one'}
    </button>
  </div>
</footer>

<style>
  footer {
    grid-column: 1 / -1;
    display: flex;
    gap: var(--step-5);
    align-items: center;
    min-height: 96px;
    padding: var(--step-2h) var(--step-5);
    background: var(--paper);
    border-top: 1px solid var(--hem-strong);
  }
  h3 {
    font-size: var(--size-l);
  }
  figure {
    display: flex;
    gap: var(--step-1h);
    align-items: end;
    margin: 0;
  }
  canvas {
    border: 1px solid var(--hem-strong);
    background: var(--linen);
  }
  figcaption {
    font-size: 11px;
    font-weight: 600;
  }
  div {
    display: flex;
    gap: var(--step-2h);
    margin-left: auto;
  }
</style>
