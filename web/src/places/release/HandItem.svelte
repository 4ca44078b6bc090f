<script lang="ts">
  import { untrack } from 'svelte';
  import type { Schemas } from '../../api/client';
  import { weight } from '../../look/time';
  import Key from '../../look/Key.svelte';
  import { keys } from '../../look/keys.svelte';
  import Runs from '../../parts/Runs.svelte';
  import Seam from '../../parts/Seam.svelte';
  import { copies, settled, type Row } from './hand';

  /** One thing to put in: where, what stands there, what becomes of it, and what Mendry saw of it. */
  let {
    row,
    release,
    current,
    copied,
    looking,
    clock,
    oncurrent,
    oncopy,
    ontake,
  }: {
    row: Row;
    release: number;
    current: boolean;
    copied: number; // how many of its values were copied
    looking: boolean;
    clock: (moment: string) => string;
    oncurrent: () => void;
    oncopy: (text: string) => void;
    ontake: () => void;
  } = $props();

  const { item, step } = $derived(row);
  const done = $derived(settled(item));
  const next = $derived(copies(row)[copied % Math.max(1, copies(row).length)]);
  const title = $derived(
    step.file
      ? 'A picture into the site’s pictures'
      : {
          change: item.name,
          'put in': 'New: ' + item.name,
          'take out': 'Take out: ' + item.name,
          move: 'Move: ' + item.name,
        }[item.act],
  );
  const about = $derived(
    step.file &&
      [`/${step.path}`, step.file.width && `${step.file.width} × ${step.file.height}`, weight(step.file.size)]
        .filter(Boolean)
        .join(' · '),
  );
  const of = (v: Schemas['HandValue'], not: string) => v.runs.filter((r) => r.is !== not);
  let self: HTMLElement;
  // The item in hand has the focus, so that Enter means it; a button that was just used gives it back.
  $effect(() => {
    if (!current) return;
    self.scrollIntoView({ block: 'nearest' });
    const elsewhere = untrack(() => keys.writing) || document.querySelector('[role=dialog]:not([hidden])');
    if (!elsewhere) self.focus({ preventScroll: true });
  });
  function copy(text: string) {
    oncopy(text);
    self.focus({ preventScroll: true });
  }
</script>

{#snippet value(label: string, text: string, runs: Schemas['Run'][], can: boolean, gone = false)}
  <span class="soft">{label}</span>
  <span class="box" class:gone
    >{#if runs.length}<Runs {runs} />{:else}{text}{/if}</span
  >
  {#if can}<button class="btn slim" onclick={() => copy(text)} aria-label="Copy {text}"
      >Copy {#if current && text === next}<Key k="C" />{/if}</button
    >{:else}<span></span>{/if}
{/snippet}

<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions -->
<li
  bind:this={self}
  tabindex="-1"
  class:on={current}
  class:done
  aria-current={current ? 'step' : undefined}
  onclick={oncurrent}
  onfocusin={oncurrent}
>
  <span class="n" aria-hidden="true">{done ? '✓' : row.n}</span>
  <div class="what">
    <b>{title}</b>
    {#if step.file}
      <br /><span class="mono soft">{about}</span>
    {:else}<span class="soft">on {step.address}{item.where ? `, ${item.where}` : ''}</span>{/if}
  </div>
  <span class="state small">
    {#if item.taken}<Seam state="sure">right as it stands</Seam>
    {:else if item.seen === 'right'}<Seam state="sure">seen there{step.seen_at ? `, ${clock(step.seen_at)}` : ''}</Seam>
    {:else if looking}<span class="soft" role="status">looking…</span>
    {:else if item.seen === 'different'}<Seam state="stop">not what was cleared</Seam>
    {:else if item.put && step.seen_at}<Seam state="kept">not there yet at {clock(step.seen_at)}</Seam>
    {:else}<span class="soft">waiting for you</span>{/if}
  </span>
  {#if !done}
    <div class="values">
      {#each item.values as v (v.name)}
        {#if v.name !== 'words' && item.kind !== 'facts'}<b class="small name"
            >{v.name}{#if v.right}<span class="soft">, seen there</span>{/if}</b
          >{/if}
        {#if v.name === 'to'}{@render value('goes', v.after, [], false)}
        {:else}
          {#if v.before}{@render value(
              item.act === 'move' ? 'moves' : 'stands',
              v.before,
              of(v, 'new'),
              false,
              item.act === 'take out',
            )}{/if}
          {#if v.after && item.act !== 'move'}{@render value('becomes', v.after, of(v, 'gone'), true)}{/if}
        {/if}
      {/each}
      {#if item.markup}{@render value('markup', item.markup, [], true)}{/if}
      {#if step.file && item.act === 'put in'}
        <a class="btn slim fetch" href="/api/releases/{release}/steps/{step.id}/file" download={step.file.name}
          >Fetch the picture</a
        >
      {/if}
      {#if item.seen === 'different' && !looking}
        <span class="is-stop">{item.slip ? 'a slip' : 'there is'}</span>
        <span class="box wrong"
          >{#if item.runs.length}<Runs runs={item.runs} />{:else}{item.say}{/if}</span
        >
        {#if item.slip}<span></span>{:else}<button
            class="btn slim"
            onclick={ontake}
            title="the record says that it is not what was cleared">It is right as it stands</button
          >{/if}
      {/if}
    </div>
  {/if}
</li>

<style>
  li {
    background: var(--paper);
    border: 1px solid var(--hem);
    border-radius: var(--radius);
    display: grid;
    grid-template-columns: 30px minmax(0, 1fr) auto;
    gap: var(--step-1h) var(--step-3);
    padding: var(--step-2h) var(--step-3h);
    align-items: start;
    scroll-margin: var(--step-4);
  }
  li.on {
    border-color: var(--indigo);
    box-shadow: inset 0 0 0 1px var(--indigo);
  }
  .n {
    width: 30px;
    height: 30px;
    border: 2px solid var(--weld);
    border-radius: 50% 50% 50% 0;
    display: grid;
    place-items: center;
    font: 700 13px var(--display);
  }
  .done .n {
    border-color: var(--moss);
    color: var(--moss);
  }
  .on:not(.done) .n {
    background: var(--indigo);
    border-color: var(--indigo);
    color: #fff;
  }
  .what,
  .state {
    padding-top: var(--step-1);
  }
  .what {
    overflow-wrap: anywhere;
  }
  .values {
    grid-column: 2 / 4;
    display: grid;
    grid-template-columns: 62px minmax(0, 1fr) auto;
    gap: var(--step-1h) var(--step-2h);
    align-items: center;
    font-size: var(--size-s);
  }
  .name {
    grid-column: 1 / -1;
    margin-top: var(--step-1);
  }
  .box {
    background: var(--paper);
    max-height: 9.5em;
    overflow: auto;
    overflow-wrap: anywhere;
    white-space: pre-wrap;
  }
  .gone {
    background: var(--madder-wash);
    border-color: transparent;
    color: var(--madder);
    text-decoration: line-through;
  }
  .wrong {
    border-color: var(--madder);
  }
  .fetch {
    grid-column: 1 / -1;
    justify-self: start;
  }
</style>
