<script lang="ts">
  import { boxes, type samples } from './samples';

  /** What a plain section is laid out like, drawn with boxes. */
  let { of, wide = 64 }: { of: (typeof samples)[number]; wide?: number } = $props();
</script>

<svg viewBox="0 0 64 40" width={wide} height={(wide * 40) / 64} aria-hidden="true">
  {#each boxes(of.sketch) as [x, y, width, height] (`${x} ${y}`)}<rect {x} {y} {width} {height} />{/each}
</svg>

<style>
  svg {
    display: block;
    flex: none;
    background: var(--paper);
    border: 1px solid var(--hem-strong);
  }
  rect {
    fill: var(--hem-strong);
  }
</style>
