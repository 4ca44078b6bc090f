<script lang="ts">
  import { type Snippet, untrack } from 'svelte';
  import { ahead } from '../../look/ahead';
  import type { Click, FromFrame, Mark, Places, Pointed, ToFrame } from './frame';
  import { pointedAt } from '../../look/keys.svelte';
  import { LateClick } from './lateClick';
  import { Told } from './told';

  /** A page of a site in an opaque origin, rendered at a width of its own and scaled to the room there is. */
  let {
    src,
    title,
    width,
    marks = [],
    pointing = false,
    names,
    scale = $bindable(1),
    onpoint,
    onwaits,
    onplaces,
    onscroll,
    onkey,
    onstale,
    onfresh,
    over,
  }: {
    src: string;
    title: string;
    width?: number;
    marks?: Mark[];
    pointing?: boolean;
    /** The drafts by which parts have the names that they have outside; a page may show another one. */
    names?: readonly string[];
    scale?: number;
    /** Called with what is pointed at; of a page that is being renewed it is asked again where false comes back. */
    onpoint?: (p: Pointed, renewed: boolean) => boolean;
    /** Called when what was pointed at is known only later: when the page that is coming is there, or when the names are
     * known by which the draft has its parts. */
    onwaits?: (draft?: string) => void;
    onplaces?: (p: Places) => void;
    onscroll?: (y: number) => void;
    onkey?: (key: string, down: boolean, repeat: boolean) => void;
    onstale?: () => void;
    /** Called when a page has come, to tell it what it cannot know; the first one, or one that takes another's place. */
    onfresh?: (first: boolean) => void;
    /** What lies over the page, which begins so far from the left. */
    over?: Snippet<[left: number]>;
  } = $props();

  // Two frames, one in front of the other: a page that is loaded again comes up behind the one that is looked at, is brought
  // to the same place, and takes its turn then.
  let frames = $state<(HTMLIFrameElement | undefined)[]>([undefined, undefined]);
  let front = $state(0);
  let coming = $state(false); // a page is on its way behind the one in front
  let room = $state(0);
  let height = $state(0);
  let last = 0;
  const inner = $derived(width ?? room);
  const indent = $derived(Math.max(0, (room - inner * scale) / 2));
  $effect(() => {
    scale = inner > 0 ? Math.min(1, room / inner) : 1;
  });

  const sendTo = (i: number, m: ToFrame) => frames[i]?.contentWindow?.postMessage({ mendry: true, ...m }, '*');
  export function send(m: ToFrame) {
    sendTo(front, m);
    if (coming && m.do !== 'scroll' && m.do !== 'show') sendTo(1 - front, m);
  }
  /** Loads the page again, at the place where it is. */
  export function reload() {
    load(1 - front, src);
    [coming, placed] = [true, -1];
    ready = undefined; // one that was ready before is not the one that is asked for now
  }
  // Changing a frame's src would add a step to the browser's history, and going back would then move in the frame.
  function load(i: number, to: string) {
    frames[i]?.contentWindow?.location.replace(numbered(i, to));
  }
  // Each page that a frame is given has a number, by which what the one before it says is known.
  let loads = 0;
  const current = [0, 0];
  function numbered(i: number, to: string) {
    const url = new URL(to, location.href);
    url.searchParams.set('mendry-load', `${(current[i] = ++loads)}`);
    return url.href;
  }
  let shown = '';
  const begin = (i: number) => (it: HTMLIFrameElement) => {
    if (i !== untrack(() => front)) return;
    shown = untrack(() => src);
    it.src = numbered(i, shown);
  };
  $effect(() => {
    if (!shown || src === shown) return;
    shown = src;
    last = 0;
    coming = false;
    load(front, src);
  });

  const known = [false, false];
  const told = new Told();
  $effect(() => {
    if (!pointing) return;
    return pointedAt(() => {
      const under = [0, 1].filter(
        (i) => known[i] && (i === front || leaving) && frames[i]?.parentElement?.matches(':hover'),
      );
      return under.length ? Promise.all(under.map((i) => told.ask((n) => sendTo(i, { do: 'tell', n })))) : undefined;
    });
  });
  $effect(() => {
    const hear = (e: MessageEvent<FromFrame>) => {
      const i = frames.findIndex((f) => f && e.source === f.contentWindow);
      if (i < 0 || !e.data?.mendry) return;
      const m = e.data;
      if (m.say === 'told') told.heard(m.n);
      const behind = i !== front;
      const old = m.load !== current[i];
      if (m.say === 'point' && !m.again) ahead.goes(); // what was typed is not for this one
      if (m.say === 'point' && (old || behind))
        ask(m, coming); // the page was renewed under the pointer
      else if (old) return;
      else if (m.say === 'places') {
        if (!known[i]) {
          known[i] = true;
          tell(i);
          onfresh?.(!behind);
        }
        if (behind) {
          if (coming && m.ready) asksForTurn(i, m);
          return;
        }
        if (!coming) late.again();
        last = m.scroll;
        onplaces?.(m);
      } else if (behind) {
        if (m.say !== 'scroll' || !leaving || coming) return;
        last = m.scroll; // it was scrolled while another one took its place
        sendTo(front, { do: 'scroll', scroll: last });
      } else if (m.say === 'here') {
        last = m.scroll;
        takeTurn();
      } else if (m.say === 'point') {
        last = m.scroll; // it may have been scrolled just now
        if (onpoint?.(m, coming || strange(m)) === false) ask(m, true);
        else late.drop();
      } else if (m.say === 'scroll') {
        last = m.scroll;
        onscroll?.(m.scroll);
      } else if (m.say === 'stale') onstale?.();
      else if (m.say === 'keydown' || m.say === 'keyup') onkey?.(m.key, m.say === 'keydown', m.repeat);
    };
    addEventListener('message', hear);
    return () => removeEventListener('message', hear);
  });
  // The page behind that is ready, until the one in front has said where it is scrolled to.
  let ready: { i: number; m: Places } | undefined;
  let silent: ReturnType<typeof setTimeout> | undefined;
  function asksForTurn(i: number, m: Places) {
    ready = { i, m };
    sendTo(front, { do: 'where' });
    clearTimeout(silent);
    silent = setTimeout(takeTurn, 300); // a page that does not answer
  }
  /** Lets the page behind come to the front, at the place where the one in front is. */
  function takeTurn() {
    clearTimeout(silent);
    if (!ready || !coming) return;
    const { i, m } = ready;
    ready = undefined;
    if (Math.abs(m.scroll - last) > 1 && m.height > height / scale + 1 && placed !== last) {
      placed = last;
      sendTo(i, { do: 'scroll', scroll: last });
      tell(i); // it says its places again
      return;
    }
    [front, coming, placed, last] = [i, false, -1, m.scroll];
    leave();
    late.again();
    onplaces?.(m);
  }
  /** The page shows a draft whose parts may have other names than outside: one that is kept and not answered yet. */
  const strange = ({ draft }: Pointed) => !!draft && !!names && !names.includes(draft);
  const late = new LateClick((at) => sendTo(front, { do: 'click', at }));
  $effect(() => {
    void names;
    if (late.waits && !untrack(() => coming)) untrack(() => late.again());
  });
  /** Asks again what was pointed at: when the page that is coming is there, or at once. */
  function ask(m: Click, wait: boolean) {
    if (wait) late.wait(m);
    else late.drop();
    onwaits?.(wait && !coming ? m.draft : undefined);
    if (!wait) sendTo(front, { do: 'click', at: m });
  }
  /** Lets go of what was pointed at and is still waited for: something else was taken in hand since. */
  export function forget() {
    late.drop();
  }
  // A click that is on its way finds the page that it was made on: that page can still be pointed at for a moment after
  // another one took its place.
  let leaving = $state(false);
  let left: ReturnType<typeof setTimeout> | undefined;
  function leave() {
    leaving = true;
    clearTimeout(left);
    left = setTimeout(() => (leaving = false), 600);
  }
  let placed = -1; // where the page behind was told to go last
  const tell = (i = front) => sendTo(i, { do: 'marks', marks: $state.snapshot(marks) as Mark[], pointing });
  $effect(() => tell());
</script>

<div class="room" bind:clientWidth={room} bind:clientHeight={height}>
  {#if room}
    {#each frames.keys() as i (i)}
      <iframe
        bind:this={frames[i]}
        {@attach begin(i)}
        title={i === front ? title : `${title}, coming`}
        inert={i !== front && !leaving}
        class:behind={i !== front}
        sandbox="allow-scripts"
        referrerpolicy="no-referrer"
        onload={() => {
          known[i] = false;
          tell(i);
        }}
        style:width="{inner}px"
        style:height="{height / scale}px"
        style:transform="scale({scale})"
        style:left="{indent}px"
      ></iframe>
    {/each}
    {@render over?.(indent)}
  {/if}
</div>

<style>
  .room {
    position: relative;
    width: 100%;
    height: 100%;
    overflow: hidden;
    isolation: isolate;
    background: var(--white);
  }
  iframe {
    position: absolute;
    top: 0;
    border: 0;
    transform-origin: 0 0;
    background: var(--white);
  }
  .behind {
    opacity: 0; /* not hidden: what cannot be seen is not laid out in time */
    pointer-events: none;
    z-index: -1;
  }
</style>
