<script lang="ts">
  import { Popover, Portal } from '@skeletonlabs/skeleton-svelte';
  import type { Schemas } from '../../api/client';
  import { contents } from '../../look/contents';
  import { momentWords } from '../../look/time';
  import PagesOf from '../../parts/PagesOf.svelte';
  import FilesChanged from '../../parts/FilesChanged.svelte';
  import Runs from '../../parts/Runs.svelte';
  import Seam from '../../parts/Seam.svelte';
  import ClientNotes from './ClientNotes.svelte';
  import { asWhole, briefly, stands } from './thread';
  import { fileOf } from '../../api/client';

  /** One change on the thread. It opens: what it was and became, who made it, and how it is taken back. */
  let {
    number,
    notes,
    change: c,
    current,
    busy,
    onopen,
    onundo,
    onback,
  }: {
    number: number;
    notes: Schemas['ClientNote'][];
    change: Schemas['Change'];
    current: boolean;
    busy: boolean;
    onopen?: () => void;
    onundo: () => void;
    /** Takes a live change back, as a change of its own. */
    onback: () => void;
  } = $props();
  let open = $state(false);
  const live = $derived(c.state === 'live' || c.state === 'sure');
  const reworded = $derived(c.words.some((r) => r.is !== 'same'));
  function then(act?: () => void) {
    open = false;
    act?.();
  }
</script>

<li class={c.state} class:on={current}>
  <Popover {open} onOpenChange={(d) => (open = d.open)} positioning={{ placement: 'top-start' }}>
    <Popover.Trigger class="knot" title={c.say}>
      <b>{c.part_name}</b>
      <span>{briefly(c)}</span>
      {#if notes.length}<span class="is-look">client: not yet</span>{/if}
      {#if c.on_pages > 1}<span class="soft">on {c.on_pages} pages</span>{/if}
      <span class="unseen">{stands(c)}</span>
    </Popover.Trigger>
    <Portal target={contents()}>
      <Popover.Positioner>
        <Popover.Content class="sheet knot-open">
          <Popover.Title class="knot-name">{c.part_name}</Popover.Title>
          <p>
            <Seam state={live ? 'sure' : c.state === 'undone' ? 'soft' : 'kept'}>{stands(c)}</Seam>
            <span class="soft small">{momentWords(c.made_at)}, {c.made_by}</span>
          </p>
          <div class="knot-was">
            {#if reworded}<Runs runs={c.words} />{:else}{c.say}{/if}
            {#if c.files}<FilesChanged files={c.files} at={fileOf(number, c.id)} />{/if}
            {#if c.picture_say}<p class="soft small">{c.picture_say}</p>{/if}
          </div>
          <ClientNotes {notes} />
          {#if c.on_pages + c.left_on > 1}<PagesOf {number} change={c} />{/if}
          <p class="knot-acts">
            {#if onopen}<button class="btn slim" onclick={() => then(onopen)}>Go to the part</button>{/if}
            {#if c.state === 'kept'}<button class="btn slim warn" disabled={busy} onclick={() => then(onundo)}
                >Undo this change{asWhole(c)}</button
              >{/if}
            {#if live}<button class="btn slim" disabled={busy} onclick={() => then(onback)}
                >Take this change back{asWhole(c)}</button
              >{/if}
          </p>
          {#if live}
            <p class="small soft">
              It is taken back by a new change, which is live when you publish it. A whole release is taken back under
              Release.
            </p>
          {:else if c.state === 'going'}
            <p class="small soft">A release carries it. When that is done, it can be put back.</p>
          {/if}
        </Popover.Content>
      </Popover.Positioner>
    </Portal>
  </Popover>
</li>

<style>
  li {
    flex: none;
    width: 168px;
    position: relative;
    padding-top: var(--step-4);
    border: 0;
  }
  li::before {
    content: '';
    position: absolute;
    left: 6px;
    right: -6px;
    top: 9px;
    border-top: 2px dashed var(--weld);
  }
  li:last-child::before {
    right: 30px;
  }
  li::after {
    content: '';
    position: absolute;
    left: 0;
    top: 3px;
    width: 13px;
    height: 13px;
    border: 2.5px solid var(--weld);
    background: var(--paper);
    border-radius: 50% 50% 50% 0;
  }
  .live::after,
  .sure::after {
    border-color: var(--moss);
  }
  .live::before,
  .sure::before {
    border-top: 2px solid var(--moss);
  }
  .undone::after {
    border-color: var(--ink-soft);
  }
  .on::after {
    background: var(--indigo);
    border-color: var(--indigo);
  }
  li :global(.knot) {
    width: 156px;
    text-align: left;
    font-size: var(--size-s);
    line-height: 1.3;
    cursor: pointer;
  }
  li :global(.knot b),
  li :global(.knot span:not(.unseen)) {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  :global(.knot-open) {
    z-index: 30;
    width: 380px;
    padding: var(--step-3) var(--step-3h);
    display: grid;
    gap: var(--step-2);
    font-size: var(--size-m);
    box-shadow: var(--lift);
  }
  :global(.knot-name) {
    font-weight: 700;
    font-size: var(--size-l);
  }
  :global(.knot-was) {
    max-height: 180px;
    overflow: auto;
    overflow-wrap: anywhere;
  }
  :global(.knot-acts) {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-1h);
  }
</style>
