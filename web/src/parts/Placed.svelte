<script lang="ts">
  import type { Schemas } from '../api/client';

  /** A picture in the shape of its place on the page, or, where the place follows the picture, in its own. */
  let { src, alt, shape }: { src: string; alt: string; shape?: Schemas['PictureShape'] } = $props();
</script>

<img
  {src}
  {alt}
  class={{ shaped: !!shape }}
  style:aspect-ratio={shape && `${shape.width} / ${shape.height}`}
  style:object-fit={shape?.fit}
/>

<style>
  img {
    display: block;
    width: 100%;
    max-height: 220px;
    object-fit: contain;
  }
  .shaped {
    max-height: none;
    height: auto;
  }
</style>
