<script lang="ts">
  import { draw, moved, type Point, sized } from './geometry';
  import type { Picking } from './picking.svelte';

  /** The picture as it stands, with what is kept of it: moved and sized by hand, by its focus, or with the arrow keys. */
  let { picking, img }: { picking: Picking; img: HTMLImageElement } = $props();

  let room = $state({ width: 0, height: 0 });
  let canvas = $state<HTMLCanvasElement>();
  const whole = $derived(picking.whole);
  const scale = $derived(Math.min(room.width / whole.width, (room.height - 4) / whole.height) || 0);
  const part = $derived(picking.kept);
  const cuts = $derived(!picking.fixed && picking.cut !== 'whole');
  const corners = [
    { left: true, top: true, name: 'top left' },
    { left: false, top: true, name: 'top right' },
    { left: true, top: false, name: 'bottom left' },
    { left: false, top: false, name: 'bottom right' },
  ];
  $effect(() => {
    if (!canvas || !scale) return;
    const sharp = window.devicePixelRatio || 1;
    canvas.width = Math.round(whole.width * scale * sharp);
    canvas.height = Math.round(whole.height * scale * sharp);
    draw(canvas, img, picking.size, picking.stand, { x: 0, y: 0, ...whole });
  });

  /** Follows the pointer until it is let go; what it does is told in pixels of the picture. */
  function drag(e: PointerEvent, each: (by: Point) => void) {
    if (e.button !== 0) return;
    e.preventDefault();
    e.stopPropagation();
    const el = e.currentTarget as HTMLElement;
    el.setPointerCapture(e.pointerId);
    el.focus();
    const from = { x: e.clientX, y: e.clientY };
    const move = (m: PointerEvent) => each({ x: (m.clientX - from.x) / scale, y: (m.clientY - from.y) / scale });
    el.addEventListener('pointermove', move);
    el.addEventListener('pointerup', () => el.removeEventListener('pointermove', move), { once: true });
  }
  const held = $derived(picking.cut === 'place' ? picking.shape : undefined);
  const focusOf = (r: typeof part) => ({
    x: (r.x + r.width / 2) / whole.width,
    y: (r.y + r.height / 2) / whole.height,
  });
  function put(r: typeof part, moving: boolean) {
    // One of the place's shape that is as large as can be is known by its focus alone.
    if (moving && held && !picking.byHand) picking.focus = focusOf(r);
    else picking.byHand = r;
    picking.changed();
  }
  function moveBy(e: PointerEvent) {
    const was = part;
    drag(e, (by) => put(moved(was, by, whole), true));
  }
  function sizeBy(e: PointerEvent, c: (typeof corners)[number]) {
    const was = part;
    drag(e, (by) => put(sized(was, c, by, whole, held), false));
  }
  function lookAt(p: Point) {
    const clamp = (v: number) => Math.min(Math.max(v, 0), 1);
    picking.focus = { x: clamp(p.x), y: clamp(p.y) };
    if (picking.byHand) {
      const at = { x: picking.focus.x * whole.width, y: picking.focus.y * whole.height };
      picking.byHand = moved(
        { ...picking.byHand, x: 0, y: 0 },
        { x: at.x - picking.byHand.width / 2, y: at.y - picking.byHand.height / 2 },
        whole,
      );
    }
    picking.changed();
  }
  function focusBy(e: PointerEvent) {
    const was = picking.focus;
    drag(e, (by) => lookAt({ x: was.x + by.x / whole.width, y: was.y + by.y / whole.height }));
  }
  const arrows: Record<string, Point> = {
    ArrowLeft: { x: -1, y: 0 },
    ArrowRight: { x: 1, y: 0 },
    ArrowUp: { x: 0, y: -1 },
    ArrowDown: { x: 0, y: 1 },
  };
  /** A step of the arrow keys, in parts of the picture's longer side. */
  const step = 0.01;
  function key(e: KeyboardEvent, what: 'part' | 'focus') {
    const way = arrows[e.key];
    if (!way || e.ctrlKey || e.metaKey || e.altKey) return;
    e.preventDefault();
    e.stopPropagation();
    const by = Math.max(1, Math.max(whole.width, whole.height) * step);
    const much = { x: way.x * by, y: way.y * by };
    if (what === 'focus')
      lookAt({ x: picking.focus.x + much.x / whole.width, y: picking.focus.y + much.y / whole.height });
    else if (e.shiftKey) put(sized(part, { left: false, top: false }, much, whole, held), false);
    else put(moved(part, much, whole), true);
  }
</script>

<div class="room" bind:clientWidth={room.width} bind:clientHeight={room.height}>
  <div class="picture" style:width="{whole.width * scale}px" style:height="{whole.height * scale}px">
    <canvas bind:this={canvas} aria-hidden="true"></canvas>
    {#if cuts && scale}
      <div
        class="kept"
        style:left="{part.x * scale}px"
        style:top="{part.y * scale}px"
        style:width="{part.width * scale}px"
        style:height="{part.height * scale}px"
      >
        <button
          class="whole"
          aria-label="What is kept, {part.width} × {part.height}. Arrow keys move it, with Shift they size it."
          onpointerdown={moveBy}
          onkeydown={(e) => key(e, 'part')}
        ></button>
        {#each corners as c (c.name)}
          <button
            class="corner"
            class:right={!c.left}
            class:bottom={!c.top}
            tabindex="-1"
            aria-label="Size by the corner at the {c.name}"
            onpointerdown={(e) => sizeBy(e, c)}
          ></button>
        {/each}
      </div>
      <button
        class="focus"
        style:left="{picking.focus.x * whole.width * scale}px"
        style:top="{picking.focus.y * whole.height * scale}px"
        aria-label="What is to stay in the middle. Arrow keys move it."
        onpointerdown={focusBy}
        onkeydown={(e) => key(e, 'focus')}
      ></button>
    {/if}
  </div>
</div>

<style>
  .room {
    display: grid;
    place-items: center;
    min-height: 0;
    overflow: hidden;
  }
  .picture {
    position: relative;
    overflow: hidden;
  }
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
  .kept {
    position: absolute;
    box-shadow: 0 0 0 4000px color-mix(in srgb, var(--ink) 62%, transparent);
    outline: 2px dashed var(--white);
    outline-offset: -2px;
  }
  .whole {
    position: absolute;
    inset: 0;
    width: 100%;
    cursor: move;
  }
  .whole:focus-visible {
    outline: 3px solid var(--gold);
    outline-offset: -4px;
  }
  .corner {
    position: absolute;
    left: 0;
    top: 0;
    width: 14px;
    height: 14px;
    background: var(--white);
    border: 1.5px solid var(--ink);
    cursor: nwse-resize;
    touch-action: none;
  }
  .corner.right {
    left: auto;
    right: 0;
  }
  .corner.bottom {
    top: auto;
    bottom: 0;
  }
  .corner.right:not(.bottom),
  .corner.bottom:not(.right) {
    cursor: nesw-resize;
  }
  .focus {
    position: absolute;
    width: 20px;
    height: 20px;
    margin: -10px 0 0 -10px;
    rotate: 45deg;
    background: color-mix(in srgb, var(--white) 35%, transparent);
    border: 3px solid var(--white);
    outline: 1.5px solid var(--ink);
    cursor: crosshair;
    touch-action: none;
  }
  .focus:focus-visible {
    outline: 3px solid var(--gold);
  }
</style>
