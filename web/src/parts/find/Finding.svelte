<script lang="ts">
  import { Combobox, Portal, useListCollection } from '@skeletonlabs/skeleton-svelte';
  import type { Schemas } from '../../api/client';
  import { contents } from '../../look/contents';
  import FoundLine from './FoundLine.svelte';
  import type { Finder } from './finder.svelte';

  /** A field that finds places as one types: by page address, title or words that stand there. */
  let {
    finder,
    label,
    placeholder,
    none,
    sites = false,
    bare = false,
    field = $bindable(),
    onchoose,
  }: {
    finder: Finder;
    label: string;
    placeholder: string;
    none: string;
    /** Says the site of each. */
    sites?: boolean;
    /** The label is heard and not seen. */
    bare?: boolean;
    field?: HTMLElement;
    onchoose: (f: Schemas['Found']) => void;
  } = $props();

  const found = $derived(finder.found ?? []);
  const pictured = $derived(found.some((f) => f.small));
  const collection = $derived(
    useListCollection({
      items: found,
      itemToString: (f) => `${f.address} ${f.part_name}`,
      itemToValue: (f) => `${found.indexOf(f)}`,
    }),
  );
  /** Takes the focus out of the field, so that letters act again: after the frame in which the field takes it back. */
  function put() {
    const input = field?.querySelector('input');
    requestAnimationFrame(() => requestAnimationFrame(() => input?.blur()));
  }
  let away = $state(false); // what was found is put away until something else is typed
</script>

{#snippet places()}
  <Combobox.Positioner>
    <Combobox.Content class={['sheet places-found', { bare }]}>
      {#if finder.problem}<li class="said small" role="alert">{finder.problem}</li>{/if}
      {#each found as f, i (i)}
        <Combobox.Item item={f} class="place-found"
          ><FoundLine {f} {sites} {pictured} again={found[i - 1]?.page_id === f.page_id} /></Combobox.Item
        >
      {:else}
        {#if !finder.problem}<li class="soft small none">{none}</li>{/if}
      {/each}
    </Combobox.Content>
  </Combobox.Positioner>
{/snippet}

<!-- What is typed before the field's own works have started is heard here. -->
<div
  class={['finding', { bare }]}
  bind:this={field}
  oninput={(e) => {
    if (e.target instanceof HTMLInputElement) finder.typed = e.target.value;
  }}
>
  <Combobox
    {collection}
    {placeholder}
    open={!away && (!!finder.found || !!finder.problem)}
    allowCustomValue
    inputBehavior="autohighlight"
    inputValue={finder.typed}
    positioning={{ placement: 'bottom-start', sameWidth: !bare }}
    onInputValueChange={(d) => {
      finder.typed = d.inputValue;
      away = false;
    }}
    onOpenChange={(d) => (away = !d.open)}
    value={[]}
    onValueChange={(d) => {
      const f = d.value[0] === undefined ? undefined : found[Number(d.value[0])];
      if (!f) return;
      finder.typed = '';
      put();
      onchoose(f);
    }}
  >
    <Combobox.Label class={bare ? 'unseen' : 'finding-label'}>{label}</Combobox.Label>
    <Combobox.Control>
      <Combobox.Input class={bare ? 'finding-bare' : 'box'} maxlength={200} autocomplete="off" spellcheck={false} />
    </Combobox.Control>
    {#if bare}{@render places()}{:else}<Portal target={contents()}>{@render places()}</Portal>{/if}
  </Combobox>
</div>

<style>
  .finding {
    min-width: 0;
  }
  .finding :global(.finding-label) {
    font: inherit;
    font-weight: 600;
  }
  .finding :global(.box) {
    width: 100%;
  }
  .finding :global(.finding-bare) {
    width: 100%;
    height: 36px;
    padding: 0 var(--step-10) 0 var(--step-3);
    border: 1px solid var(--bar-edge);
    border-radius: var(--radius);
    background: var(--bar-field);
    color: var(--white);
  }
  .finding :global(.finding-bare::placeholder) {
    color: var(--bar-ink);
    opacity: 1;
    text-overflow: ellipsis;
  }
  :global(.places-found.places-found) {
    z-index: 40;
    display: block;
    padding: 0;
    max-height: min(70vh, 560px);
    overflow: auto;
    box-shadow: var(--lift);
    color: var(--ink);
    white-space: normal;
  }
  :global(.places-found.bare) {
    width: min(640px, 90vw);
  }
  :global(.places-found .place-found) {
    display: block;
    padding: var(--step-2) var(--step-2h);
    cursor: pointer;
    border-radius: 0;
  }
  :global(.places-found .place-found + .place-found) {
    border-top: 1px solid var(--hem);
  }
  :global(.places-found .place-found[data-highlighted]) {
    background: var(--indigo-wash);
    color: inherit;
  }
  .none {
    padding: var(--step-2) var(--step-2h);
  }
</style>
