<script lang="ts">
  import { untrack } from 'svelte';
  import type { FromFrame, Mark, Places, ToFrame } from './frame';

  /** A page of a site in an opaque origin, rendered at a width of its own and scaled to the room there is. */
  let {
    src,
    title,
    width,
    marks = [],
    pointing = false,
    scale = $bindable(1),
    onpoint,
    onplaces,
    onscroll,
    onkey,
    onstale,
  }: {
    src: string;
    title: string;
    width?: number;
    marks?: Mark[];
    pointing?: boolean;
    scale?: number;
    onpoint?: (id: string) => void;
    onplaces?: (p: Places) => void;
    onscroll?: (y: number) => void;
    onkey?: (key: string, down: boolean, repeat: boolean) => void;
    onstale?: () => void;
  } = $props();

  let frame = $state<HTMLIFrameElement>();
  let room = $state(0);
  let height = $state(0);
  let last = 0;
  let restore = 0;
  const inner = $derived(width ?? room);
  $effect(() => {
    scale = inner > 0 ? Math.min(1, room / inner) : 1;
  });

  export function send(m: ToFrame) {
    frame?.contentWindow?.postMessage({ mendry: true, ...m }, '*');
  }
  /** Loads the page again and goes back to where it was. */
  export function reload() {
    restore = last;
    go(src);
  }
  // Changing a frame's src would add a step to the browser's history, and going back would then move in the frame.
  let shown = '';
  const begin = (it: HTMLIFrameElement) => {
    it.src = shown = untrack(() => src);
  };
  function go(to: string) {
    shown = to;
    frame?.contentWindow?.location.replace(new URL(to, location.href).href);
  }
  $effect(() => {
    if (shown && src !== shown) go(src);
  });

  $effect(() => {
    const hear = (e: MessageEvent<FromFrame & { mendry?: boolean }>) => {
      if (!frame || e.source !== frame.contentWindow || !e.data?.mendry) return;
      const m = e.data;
      if (m.say === 'point') onpoint?.(m.id);
      else if (m.say === 'places') {
        if (m.ready && restore) {
          send({ do: 'scroll', scroll: restore });
          restore = 0;
        }
        last = m.scroll;
        if (!known) {
          known = true;
          tell();
        }
        onplaces?.(m);
      } else if (m.say === 'scroll') {
        last = m.scroll;
        onscroll?.(m.scroll);
      } else if (m.say === 'stale') onstale?.();
      else if (m.say === 'keydown' || m.say === 'keyup') onkey?.(m.key, m.say === 'keydown', m.repeat);
    };
    addEventListener('message', hear);
    return () => removeEventListener('message', hear);
  });
  let known = false;
  const tell = () => send({ do: 'marks', marks: $state.snapshot(marks) as Mark[], pointing });
  $effect(tell);
</script>

<div class="room" bind:clientWidth={room} bind:clientHeight={height}>
  {#if room}
    <iframe
      bind:this={frame}
      {@attach begin}
      {title}
      sandbox="allow-scripts"
      referrerpolicy="no-referrer"
      onload={() => {
        known = false;
        tell();
      }}
      style:width="{inner}px"
      style:height="{height / scale}px"
      style:transform="scale({scale})"
      style:left="{Math.max(0, (room - inner * scale) / 2)}px"
    ></iframe>
  {/if}
</div>

<style>
  .room {
    position: relative;
    width: 100%;
    height: 100%;
    overflow: hidden;
    background: #fff;
  }
  iframe {
    position: absolute;
    top: 0;
    border: 0;
    transform-origin: 0 0;
    background: #fff;
  }
</style>
