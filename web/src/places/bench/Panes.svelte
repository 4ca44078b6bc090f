<script lang="ts">
  import type { Schemas } from '../../api/client';
  import Frame from './Frame.svelte';
  import { Together } from './together';
  import type { Mark, Places, Pointed } from './frame';

  /** The live page and its draft: one behind the other, or side by side. */
  let {
    bench,
    view,
    through,
    seesLive,
    width,
    marks,
    scale = $bindable(),
    draftFrame = $bindable(),
    onpoint,
    onstale,
    onfresh,
    onplaces,
    onkey,
  }: {
    bench: Schemas['Bench'];
    view: 'live' | 'draft' | 'both';
    through: boolean;
    seesLive: boolean;
    width?: number;
    marks: Mark[];
    scale: number;
    draftFrame?: Frame;
    onpoint: (p: Pointed, renewed: boolean) => boolean;
    onstale: () => void;
    onfresh: (first: boolean) => void;
    onplaces: (p: Partial<Places>) => void;
    onkey: (key: string, down: boolean, repeat: boolean) => void;
  } = $props();

  let liveFrame = $state<Frame>();
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
      {onpoint}
      {onstale}
      {onfresh}
      {onplaces}
      onscroll={(y) => {
        onplaces({ scroll: y });
        follow('draft', y);
      }}
      {onkey}
    />
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
