<script lang="ts">
  import { Combobox, Portal, useListCollection } from '@skeletonlabs/skeleton-svelte';
  import { answer, api, words, type Schemas } from '../../api/client';
  import { contents } from '../../look/contents';
  import { keys, onKeys } from '../../look/keys.svelte';
  import SmallPage from '../SmallPage.svelte';

  /** The page in view, and another one of its site by typing: its title, or its address with or without its ending. */
  let { site, current, onpick }: { site: number; current: Schemas['PageRow']; onpick: (page: number) => void } =
    $props();

  let pages = $state.raw<Schemas['PageRow'][]>([]);
  let problem = $state('');
  let typed = $state('');
  let open = $state(false);
  let field = $state<HTMLElement>();

  const shown = $derived.by(() => {
    const sought = typed.trim().toLowerCase().split(/\s+/);
    const found = pages.filter((p) => sought.every((w) => `${p.address} ${p.title}`.toLowerCase().includes(w)));
    const named = (p: Schemas['PageRow']) => Number(!p.address.toLowerCase().includes(sought[0]!));
    return found.sort((a, b) => named(a) - named(b)); // those whose address says it come first
  });
  const pictured = $derived(pages.some((p) => p.small));
  const collection = $derived(
    useListCollection({
      items: shown,
      itemToString: (p) => p.address,
      itemToValue: (p) => String(p.id),
      isItemDisabled: (p) => !!p.locked,
    }),
  );
  async function list(now: boolean) {
    open = now;
    typed = '';
    if (!now || pages.length) return;
    try {
      pages = (await answer(api.GET('/sites/{site}', { params: { path: { site } } }))).pages;
      void api.POST('/sites/{site}/small-pages', { params: { path: { site } } }); // for the next look at the list
    } catch (e) {
      problem = words(e);
    }
  }
  onKeys(() => ({ g: (down) => down && field?.querySelector('input')?.focus() }));
</script>

<div class="pick" bind:this={field}>
  <Combobox
    {collection}
    {open}
    placeholder={current.address}
    openOnClick
    openOnChange
    inputBehavior="autohighlight"
    onOpenChange={(d) => list(d.open)}
    onInputValueChange={(d) => (typed = d.inputValue)}
    selectionBehavior="clear"
    value={[]}
    onValueChange={(d) => d.value[0] && onpick(Number(d.value[0]))}
  >
    <Combobox.Label class="unseen">The page, or another one of the site</Combobox.Label>
    <Combobox.Control>
      <Combobox.Input class="mono page-typed" title={current.title} />
    </Combobox.Control>
    <Portal target={contents()}>
      <Combobox.Positioner>
        <Combobox.Content class="sheet pages-found">
          {#if problem}<li class="said small" role="alert">{problem}</li>{/if}
          {#each shown as p (p.id)}
            <Combobox.Item item={p} class={['page-found', { pictured }]}>
              {#if pictured}<span class="of"><SmallPage page={p} /></span>{/if}
              <span class="mono">{p.address}</span>
              <span class="small soft"
                >{p.title}{p.hidden ? ' · hidden' : ''}{p.locked ? ' · locked' : ''}{p.kept
                  ? ` · ${p.kept} kept`
                  : ''}</span
              >
            </Combobox.Item>
          {:else}
            <li class="small soft none">{pages.length ? 'No page of this site is called that.' : 'Looking…'}</li>
          {/each}
        </Combobox.Content>
      </Combobox.Positioner>
    </Portal>
  </Combobox>
  {#if keys.on && !keys.writing}<kbd>G</kbd>{/if}
</div>

<style>
  .pick {
    position: relative;
    flex: 0 1 240px;
    min-width: 120px;
  }
  kbd {
    position: absolute;
    right: 6px;
    top: 5px;
    pointer-events: none;
  }
  .pick :global(.page-typed) {
    width: 100%;
    height: 30px;
    padding: 0 30px 0 var(--step-2);
    font-size: var(--size-s);
    border: 1px solid var(--hem-strong);
    border-radius: var(--radius);
    background: var(--paper);
    text-overflow: ellipsis;
  }
  .pick :global(.page-typed::placeholder) {
    color: var(--ink);
    opacity: 1;
    font-weight: 600;
  }
  .pick :global(.page-typed:focus::placeholder) {
    color: var(--ink-soft);
    font-weight: 400;
  }
  :global(.pages-found) {
    z-index: 30;
    display: block;
    padding: 0;
    width: 420px;
    max-height: 60vh;
    overflow: auto;
    box-shadow: var(--lift);
  }
  :global(.page-found) {
    display: grid;
    gap: 0;
    padding: var(--step-1h) var(--step-3);
    cursor: pointer;
    border-top: 1px solid var(--hem);
  }
  :global(.page-found.pictured) {
    grid-template-columns: 64px minmax(0, 1fr);
    column-gap: var(--step-2h);
  }
  :global(.page-found > .of) {
    grid-row: 1 / 3;
  }
  :global(.page-found > *) {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  :global(.page-found[data-highlighted]) {
    background: var(--indigo-wash);
  }
  .none {
    padding: var(--step-2h) var(--step-3);
  }
</style>
