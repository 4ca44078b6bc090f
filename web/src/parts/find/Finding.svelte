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
  const collection = $derived(
    useListCollection({
      items: found,
      itemToString: (f) => `${f.address} ${f.part_name}`,
      itemToValue: (f) => `${found.indexOf(f)}`,
    }),
  );
  let away = $state(false); // what was found is put away until something else is typed
</script>

<div class={['finding', { bare }]} bind:this={field}>
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
      onchoose(f);
    }}
  >
    <Combobox.Label class={bare ? 'unseen' : 'finding-label'}>{label}</Combobox.Label>
    <Combobox.Control>
      <Combobox.Input class={bare ? 'finding-bare' : 'box'} maxlength={200} autocomplete="off" spellcheck={false} />
    </Combobox.Control>
    <Portal target={contents()}>
      <Combobox.Positioner>
        <Combobox.Content class="sheet places-found">
          {#if finder.problem}<li class="said small" role="alert">{finder.problem}</li>{/if}
          {#each found as f, i (i)}
            <Combobox.Item item={f} class="place-found"><FoundLine {f} {sites} /></Combobox.Item>
          {:else}
            {#if !finder.problem}<li class="soft small none">{none}</li>{/if}
          {/each}
        </Combobox.Content>
      </Combobox.Positioner>
    </Portal>
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
    padding: 0 40px 0 12px;
    border: 1px solid #45517f;
    border-radius: var(--radius);
    background: #222c55;
    color: #fff;
  }
  .finding :global(.finding-bare::placeholder) {
    color: #cfd6ea;
    opacity: 1;
    text-overflow: ellipsis;
  }
  :global(.places-found.places-found) {
    z-index: 40;
    display: block;
    padding: 0;
    min-width: min(640px, 90vw);
    max-height: min(70vh, 560px);
    overflow: auto;
    box-shadow: 0 6px 18px #1a213633;
  }
  :global(.places-found .place-found) {
    display: block;
    padding: 7px 10px;
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
    padding: 8px 10px;
  }
</style>
