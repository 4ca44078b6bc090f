<script lang="ts">
  import type { Schemas } from '../../api/client';
  import Frame from './Frame.svelte';
  import type { BenchPage } from './desk.svelte';
  import type { Mark, Places, Pointed, Sized } from './frame';
  import Corner from './picture/Corner.svelte';
  import { Together } from './together';

  /** The live page and its draft: one behind the other, or side by side. */
  let {
    bench,
    desk,
    current,
    wish,
    view,
    through,
    seesLive,
    width,
    marks,
    scale = $bindable(),
    draftFrame = $bindable(),
    onpoint,
    onwaits,
    onstale,
    onfresh,
    onplaces,
    onkey,
    onchoose,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    current?: Schemas['Part'];
    wish?: number;
    view: 'live' | 'draft' | 'both';
    through: boolean;
    seesLive: boolean;
    width?: number;
    marks: Mark[];
    scale: number;
    draftFrame?: Frame;
    onpoint: (p: Pointed, renewed: boolean) => boolean;
    onwaits: (draft?: string) => void;
    onstale: () => void;
    onfresh: (first: boolean) => void;
    onplaces: (p: Partial<Places>) => void;
    onkey: (key: string, down: boolean, repeat: boolean) => void;
    onchoose: (id: string | undefined) => void;
  } = $props();

  let liveFrame = $state<Frame>();
  let sized = $state.raw<Sized>();
  let scroll = $state(0);
  const together = new Together<'live' | 'draft'>();
  /** Side by side, both are scrolled together. */
  function follow(who: 'live' | 'draft', y: number) {
    if (view === 'both' && together.scrolled(who))
      (who === 'live' ? draftFrame : liveFrame)?.send({ do: 'scroll', scroll: y });
  }
</script>

<div class="panes" class:both={view === 'both'}>
  <div class="pane" class:away={view === 'draft' && !through} aria-hidden={view === 'draft' && !through}>
    <Frame
      src={bench.live_url}
      title="The live page"
      {width}
      {onkey}
      bind:this={liveFrame}
      onscroll={(y) => follow('live', y)}
    />
  </div>
  <div class="pane" class:away={seesLive}>
    <Frame
      bind:this={draftFrame}
      bind:scale
      src={bench.draft_url}
      title="The draft of the page"
      {width}
      {marks}
      pointing
      names={desk.names}
      {onpoint}
      {onwaits}
      {onstale}
      {onfresh}
      onplaces={(p) => {
        [sized, scroll] = [p.sized, p.scroll];
        onplaces(p);
      }}
      onscroll={(y) => {
        scroll = y;
        onplaces({ scroll: y });
        follow('draft', y);
      }}
      {onkey}
    >
      {#snippet over(left)}
        {#if sized && current?.id === sized.id}
          <Corner {bench} {desk} part={current} {wish} frame={draftFrame} {sized} {scroll} {scale} {left} {onchoose} />
        {/if}
      {/snippet}
    </Frame>
  </div>
</div>

<style>
  .panes {
    position: relative;
    min-height: 0;
    border: 1px solid var(--hem-strong);
    background: var(--white);
  }
  .pane {
    position: absolute;
    inset: 0;
  }
  .both .pane {
    width: 50%;
  }
  .both .pane + .pane {
    left: 50%;
    border-left: 2px dashed var(--weld);
  }
  .pane.away {
    visibility: hidden;
  }
</style>
