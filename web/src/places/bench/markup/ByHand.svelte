<script lang="ts">
  import { untrack } from 'svelte';
  import { answer, api, words, type Schemas } from '../../../api/client';
  import { onKeys } from '../../../look/keys.svelte';
  import type { BenchPage } from '../desk.svelte';
  import type { MarkupEditor } from './editor';
  import { leave, leftOf } from './left';
  import Readings from './Readings.svelte';

  /** The markup of a part in an editor beside the page: what a browser would read otherwise, and what would differ, are said before it
   * is kept. */
  let {
    bench,
    desk,
    number,
    part,
    wish,
    onchoose,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    number: number;
    /** The name of the part by which it was taken up; it gets others by what is kept. */
    part: string;
    wish?: number;
    onchoose: (id: string | undefined) => void;
  } = $props();

  const page = untrack(() => bench.page.id);
  const path = untrack(() => ({ number, page }));
  let id = $state(untrack(() => part));
  const name = $derived(bench.parts.find((p) => p.id === id)?.name ?? 'this part');
  let was = $state<string>();
  let now = $state('');
  let line = $state(1);
  let again = $state(false); // what was written before and not kept stands in the editor
  let tried = $state.raw<Schemas['TriedMarkup']>();
  let problem = $state('');
  let keeping = $state(false);
  let room = $state<HTMLElement>();
  let editor: MarkupEditor | undefined;

  $effect(() => {
    const asked = id;
    let gone = false;
    answer(api.GET('/requests/{number}/bench/{page}/markup', { params: { path, query: { part: asked } } })).then(
      (m) => {
        if (gone) return;
        const left = leftOf(number, page, asked);
        line = m.line;
        if (was === undefined && left) [now, again] = [left.now, true];
        else if (was === undefined) now = m.markup;
        was = m.markup;
      },
      (e) => !gone && (problem = words(e)),
    );
    return () => (gone = true);
  });
  const ready = $derived(was !== undefined);
  $effect(() => {
    if (!room || !ready) return;
    const at = room;
    let gone = false;
    void import('./editor').then(({ edit }) => {
      if (gone) return;
      const on = { change: (w: string) => (now = w), keep: () => void keep(), leave: () => close() };
      editor = edit(
        at,
        untrack(() => now),
        untrack(() => line),
        on,
      );
    });
    return () => {
      gone = true;
      editor?.destroy();
    };
  });
  $effect(() => {
    const [markup, of, before] = [now, id, was];
    if (before === undefined) return;
    leave(number, page, of, { was: before, now: markup });
    if (markup === before) {
      tried = undefined;
      return;
    }
    const timer = setTimeout(async () => {
      try {
        const told = await answer(
          api.POST('/requests/{number}/bench/{page}/markup', {
            params: { path },
            body: { part: of, markup },
          }),
        );
        if (now === markup) [tried, problem] = [told, ''];
      } catch (e) {
        if (now === markup) problem = words(e);
      }
    }, 350);
    return () => clearTimeout(timer);
  });
  const changed = $derived(was !== undefined && now !== was);

  async function keep() {
    if (!changed || keeping) return;
    keeping = true;
    const [markup, of, untaken] = [now, id, desk.untaken()];
    try {
      const made = await desk.make({ do: 'source', part: of, markup }, wish);
      if (desk.problem && desk.unsent.aside.length) return;
      leave(number, page, of);
      [was, again, problem] = [markup, false, ''];
      if (made) {
        id = made;
        if (untaken()) onchoose(made);
      }
    } catch (e) {
      problem = words(e);
    } finally {
      keeping = false;
    }
  }
  const close = () => (desk.byHand = undefined);
  onKeys(() => ({ Escape: (down) => down && close() }));
</script>

<section aria-label="Markup">
  <header>
    <h2>Markup of {name}</h2>
    <button class="x" aria-label="Put the markup down" onclick={close}>×</button>
  </header>
  {#if again}
    <p class="said look small">
      What you wrote here before and did not keep stands here again.
      <button
        class="btn slim quiet"
        onclick={() => {
          again = false;
          editor?.set(was ?? '');
        }}>As the page has it</button
      >
    </p>
  {/if}
  {#if was === undefined && !problem}<p class="soft small" role="status">One moment…</p>{/if}
  <div class="room" bind:this={room}></div>
  <div class="told"><Readings {tried} {changed} {problem} ongo={(n) => editor?.goTo(n)} /></div>
  <footer>
    <span class="small soft"
      >{changed ? 'Not kept yet; it stands in this browser.' : 'As the draft has it.'} Nothing reaches the site.</span
    >
    <button class="btn go" disabled={!changed || keeping || !!tried?.refused} onclick={keep}
      >Keep this markup <kbd>Ctrl ⏎</kbd></button
    >
  </footer>
</section>

<style>
  section {
    grid-area: 2 / 1 / 3 / 2;
    justify-self: end;
    z-index: 30;
    width: min(700px, 58%);
    min-height: 0;
    display: grid;
    grid-template-rows: auto auto minmax(0, 1fr) auto auto;
    background: var(--paper);
    border-left: 1.5px solid var(--indigo);
  }
  header,
  footer {
    display: flex;
    gap: var(--step-3);
    align-items: center;
    justify-content: space-between;
    padding: var(--step-2) var(--step-3h);
  }
  footer {
    border-top: 1px solid var(--hem);
  }
  h2 {
    font-size: var(--size-l);
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .x {
    font-size: var(--size-l);
    padding: 0 var(--step-1h);
    cursor: pointer;
  }
  .room {
    grid-row: 3;
    min-height: 0;
    border-top: 1px solid var(--hem);
    border-bottom: 1px solid var(--hem);
  }
  .told {
    grid-row: 4;
  }
  footer {
    grid-row: 5;
  }
  section > p {
    grid-row: 2;
    margin: 0 var(--step-3h) var(--step-2);
  }
</style>
