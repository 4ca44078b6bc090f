<script lang="ts">
  import type { Schemas } from '../../../api/client';

  /** One look of the site: a sample of it, what the site calls it and what it does. */
  let { look, onchoose }: { look: Schemas['PartLook']; onchoose: () => void } = $props();
  const says = $derived(look.say && look.say !== look.color ? look.say : '');
</script>

<button
  aria-pressed={look.on}
  title={[look.called, look.say, look.like ? `on ${look.like} like it` : ''].filter(Boolean).join(' · ')}
  onmousedown={(e) => e.preventDefault()}
  onclick={onchoose}
>
  {#if look.aspect === 'ground'}
    <i aria-hidden="true" class={['sample', { none: !look.color }]} style:background-color={look.color || undefined}
    ></i>
  {:else if look.aspect === 'ink'}
    <i aria-hidden="true" class="sample letters" style:color={look.color || undefined}>Aa</i>
  {:else if look.aspect === 'shadow'}
    <i
      aria-hidden="true"
      class={['sample', { letters: !!look.text_shadow }]}
      style:box-shadow={look.box_shadow || undefined}
      style:text-shadow={look.text_shadow || undefined}>{look.text_shadow ? 'Aa' : ''}</i
    >
  {/if}
  <span class="name">{look.called}</span>
  {#if look.hard}
    <span class="small is-look">hard to read, {look.contrast.toFixed(1)}:1</span>
  {:else if says}
    <span class="small soft">{says}</span>
  {/if}
</button>

<style>
  button {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 0 var(--step-1h);
    align-items: center;
    padding: var(--step) var(--step-1h);
    border: 1.5px solid var(--hem);
    border-radius: var(--radius);
    background: var(--paper);
    text-align: left;
    line-height: 1.25;
    cursor: pointer;
    overflow-wrap: anywhere;
  }
  button:hover {
    background: var(--indigo-wash);
  }
  button[aria-pressed='true'] {
    border-color: var(--indigo);
    background: var(--indigo-wash);
    box-shadow: inset 4px 0 var(--indigo);
    padding-left: var(--step-2h);
  }
  .sample {
    grid-row: span 2;
    width: 28px;
    height: 28px;
    border: 1px solid var(--hem-strong);
    border-radius: var(--radius);
    background: #fff;
  }
  .letters {
    display: grid;
    place-items: center;
    border-color: transparent;
    background: none;
    font-style: normal;
    font-weight: 700;
  }
  .none {
    background: linear-gradient(135deg, #fff 48%, var(--hem-strong) 48%, var(--hem-strong) 52%, #fff 52%);
  }
  .small {
    grid-column: -2 / -1;
  }
  .name {
    grid-column: -2 / -1;
  }
</style>
