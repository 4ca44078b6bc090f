<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import { complain } from '../../../look/toast';
  import type { BenchPage } from '../desk.svelte';
  import type { Sized } from '../frame';
  import type Frame from '../Frame.svelte';
  import { amongWords, percents, sizeAct } from './lay';

  /** The corner of the picture in hand by which it is pulled larger or smaller. It stands over the page, not in it: what a
   * page says of itself moves it, and only a person pulls it. */
  let {
    bench,
    desk,
    part,
    wish,
    frame,
    sized,
    scroll,
    scale,
    left,
    onchoose,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    part: Schemas['Part'];
    wish?: number;
    frame?: Frame;
    sized: Sized;
    scroll: number;
    scale: number;
    /** Where the page begins. */
    left: number;
    onchoose: (id: string | undefined) => void;
  } = $props();

  const side = $derived(part.picture?.side ?? '');
  // All per cent. The page says a little later how large its picture is: by then what it says may be long given up.
  let kept = $state(0);
  const now = $derived(sized.tried ? kept : percents((sized.width / sized.wide) * 100));
  let pulled = $state<number>();
  let from = { x: 0, width: 0 }; // where it was taken
  const x = $derived(left + (sized.left + (side === 'right' ? 0 : sized.width)) * scale);
  const y = $derived((sized.top + sized.height - scroll) * scale);

  function pull(percent: number | undefined) {
    if (pulled === undefined && percent !== undefined) kept = now;
    pulled = percent;
    frame?.send({ do: 'size', id: part.id, percent });
  }
  function move(e: PointerEvent) {
    if (pulled === undefined) return;
    const by = ((e.clientX - from.x) / scale) * (side === 'right' ? -1 : side === 'centre' ? 2 : 1);
    pull(percents(((from.width + by) / sized.wide) * 100));
  }
  async function take() {
    const percent = pulled;
    if (percent === undefined) return;
    if (percent === kept) return pull(undefined);
    const was = kept;
    [kept, pulled] = [percent, undefined];
    const untaken = desk.untaken();
    try {
      const made = await desk.make(sizeAct(bench, part, percent), wish);
      if (untaken()) onchoose(made ?? part.id);
    } catch (e) {
      kept = was;
      pull(undefined);
      complain(e);
    }
  }
  const steps: Record<string, number> = { ArrowRight: 5, ArrowUp: 5, ArrowLeft: -5, ArrowDown: -5 };
  function key(e: KeyboardEvent) {
    if (e.key === 'Escape' && pulled !== undefined) pull(undefined);
    else if (e.key === 'Enter' && pulled !== undefined) void take();
    else if (steps[e.key]) pull(percents((pulled ?? now) + steps[e.key]!));
    else return;
    e.preventDefault();
    e.stopPropagation();
  }
</script>

{#if amongWords(bench, part) && sized.wide > 0 && !desk.follows}
  {#if pulled !== undefined}<div class="cover"></div>{/if}
  <div
    class="corner"
    class:pulled={pulled !== undefined}
    role="slider"
    tabindex="0"
    aria-label="Width of the picture, of the words’ width"
    aria-valuemin="10"
    aria-valuemax="100"
    aria-valuenow={pulled ?? now}
    aria-valuetext="{pulled ?? now} per cent"
    title="Pull it to make the picture larger or smaller; with the keys: arrows, then Enter"
    style:left="{x}px"
    style:top="{y}px"
    style:cursor={side === 'right' ? 'nesw-resize' : 'nwse-resize'}
    onpointerdown={(e) => {
      e.preventDefault();
      e.currentTarget.setPointerCapture(e.pointerId);
      e.currentTarget.focus();
      from = { x: e.clientX, width: sized.width };
      pull(now);
    }}
    onpointermove={move}
    onpointerup={take}
    onpointercancel={() => pull(undefined)}
    onblur={() => pulled !== undefined && void take()}
    onkeydown={key}
  >
    {#if pulled !== undefined}<b class="small">{pulled} %</b>{/if}
  </div>
{/if}

<style>
  .corner {
    position: absolute;
    width: 14px;
    height: 14px;
    margin: -8px 0 0 -8px;
    border: 2px solid var(--white);
    border-radius: 2px;
    background: var(--indigo);
    box-shadow: 0 0 0 1px var(--indigo);
    touch-action: none;
  }
  .cover {
    position: fixed; /* over the frames, which would take the pointer's moves */
    inset: 0;
  }
  b {
    position: absolute;
    right: 0;
    bottom: 18px;
    padding: 1px var(--step-1h);
    border-radius: var(--radius);
    background: var(--indigo);
    color: var(--white);
    white-space: nowrap;
    pointer-events: none;
  }
</style>
