<script lang="ts">
  import { type Schemas, answer, api } from '../../../api/client';
  import type { FromFrame, Shown } from '../frame';
  import { type PlacesOf, windows } from './places';

  /** Asks the draft, in windows of three widths that nobody sees, how large its pictures are shown. */
  let {
    bench,
    number,
    behind,
    onmeasured,
  }: {
    bench: Schemas['Bench'];
    number: number;
    /** A part behind which a picture is to stand. */
    behind?: string;
    onmeasured: (p: PlacesOf) => void;
  } = $props();

  let frames = $state<(HTMLIFrameElement | undefined)[]>([]);
  let step = $state(0);
  const found: PlacesOf = {};
  const url = $derived.by(() => {
    const to = new URL(bench.draft_url, location.href);
    to.searchParams.set('mendry-load', '0');
    return to.href;
  });

  function take(at: (typeof windows)[number], pictures: Record<string, Shown | undefined>) {
    for (const [part, shown] of Object.entries(pictures))
      if (Array.isArray(shown) && shown.length === 4 && shown.slice(0, 2).every((n) => Number(n) > 0))
        (found[part] ??= []).push({ at, width: shown[0], height: shown[1], fit: shown[2], own: !!shown[3] });
    step++;
    if (step < windows.length) return;
    onmeasured(found);
    const places = Object.entries(found).flatMap(([part, all]) =>
      all.map((p) => ({ part, ...p, fit: p.fit as Schemas['PictureFit'] })),
    );
    const body = { draft: bench.draft, places: places.slice(0, 600) };
    // A hint: where it cannot be noted now, it is asked again the next time.
    void answer(
      api.PUT('/requests/{number}/bench/{page}/places', { params: { path: { number, page: bench.page.id } }, body }),
    ).catch(() => {});
  }
  $effect(() => {
    const hear = (e: MessageEvent<FromFrame>) => {
      if (!e.data?.mendry || !frames[step] || e.source !== frames[step]!.contentWindow) return;
      const m = e.data;
      if (m.say === 'places' && m.ready)
        frames[step]!.contentWindow!.postMessage({ mendry: true, do: 'pictures', behind }, '*');
      else if (m.say === 'pictures') take(windows[step]!, m.pictures);
    };
    addEventListener('message', hear);
    return () => removeEventListener('message', hear);
  });
</script>

{#if step < windows.length}
  <div class="unseen-frames" aria-hidden="true">
    {#key step}
      <iframe
        bind:this={frames[step]}
        src={url}
        title="The draft, {windows[step]} wide, to be measured"
        inert
        tabindex="-1"
        sandbox="allow-scripts"
        referrerpolicy="no-referrer"
        style:width="{windows[step]}px"
      ></iframe>
    {/key}
  </div>
{/if}

<style>
  .unseen-frames {
    position: absolute;
    inset: 0;
    overflow: hidden;
    opacity: 0; /* not hidden: what cannot be seen is not laid out in time */
    pointer-events: none;
    z-index: -1;
  }
  iframe {
    position: absolute;
    top: 0;
    left: 0;
    height: 900px;
    border: 0;
  }
</style>
