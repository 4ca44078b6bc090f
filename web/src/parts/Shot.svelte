<script lang="ts">
  import type { Schemas } from '../api/client';

  /** A picture of a page with what looks different boxed: where something was changed, and where nothing was. */
  let { src, alt, shot, side }: { src: string; alt: string; shot: Schemas['PageShot']; side: 'before' | 'after' } =
    $props();

  const height = $derived(side === 'before' ? shot.before_height : shot.after_height);
  const boxes = $derived(
    shot.regions.flatMap((r, i) => {
      const b = r[side];
      return b ? [{ i, b, intended: r.intended, name: r.name }] : [];
    }),
  );
  const percent = (n: number, of: number) => `${(n / of) * 100}%`;
</script>

<div class="shot" style:aspect-ratio="{shot.width}/{height}" style:max-width="{shot.width}px">
  <img {src} {alt} loading="lazy" width={shot.width} {height} />
  {#each boxes as { i, b, intended, name } (i)}
    <span
      class:other={!intended}
      style:left={percent(b.x, shot.width)}
      style:top={percent(b.y, height)}
      style:width={percent(b.width, shot.width)}
      style:height={percent(b.height, height)}
      title={intended ? 'changed' : `looks different, though nothing was changed here: ${name}`}
      >{#if !intended}<b>not changed{name ? `: ${name}` : ''}</b>{/if}</span
    >
  {/each}
</div>

<style>
  .shot {
    position: relative;
    width: 100%;
    margin: 0 auto;
    background: var(--paper);
  }
  img {
    display: block;
    width: 100%;
    height: 100%;
  }
  span {
    position: absolute;
    outline: 2px solid var(--moss);
    outline-offset: 3px;
    border-radius: 2px;
  }
  span.other {
    outline: 3px double var(--madder);
  }
  b {
    position: absolute;
    left: 0;
    bottom: calc(100% + 4px);
    max-width: 260px;
    padding: 0 var(--step);
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    font-size: var(--size-s);
    font-weight: 600;
    background: var(--madder);
    color: var(--paper);
  }
</style>
