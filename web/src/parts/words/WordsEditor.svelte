<script lang="ts">
  import type { Editor } from '@tiptap/core';
  import { onMount, type Snippet, untrack } from 'svelte';
  import { words, type Schemas } from '../../api/client';
  import { keysWait } from '../../look/keys.svelte';
  import { becomeWords } from './become';
  import { catchUp } from './catchUp';
  import { dress, makeEditor, someChosen } from './editor';
  import LinkPanel from './LinkPanel.svelte';
  import { type Clip, paste, type Put } from './paste';
  import { type Said, tellSaid } from './said';
  import WordsBar from './WordsBar.svelte';

  /** The editor for the words of a part. */
  let {
    html,
    site,
    page,
    links,
    underline,
    said,
    brought,
    onheld,
    onchange,
    onblur,
    onblocks,
    form = '',
    forms = [],
    onform,
    focuses = 0,
    cursor,
    styles,
  }: {
    html: string;
    site: number;
    page: number;
    links: boolean;
    underline: boolean;
    /** What the rules say of the words. */
    said: Said[];
    /** The words as others left them meanwhile, with what was typed here. */
    brought?: string;
    /** Told the words as the editor writes them, when it took them in and nobody typed. */
    onheld: (html: string) => void;
    onchange: (html: string) => void;
    onblur: () => void;
    /** Puts pasted paragraphs below the part. */
    onblocks?: (html: string) => void;
    /** What the block is, and what it may become. */
    form?: string;
    forms?: Schemas['PartForm'][];
    onform?: (form: Schemas['PartForm']) => void;
    /** Counted up when the cursor is to come back. */
    focuses?: number;
    /** Where it goes, asked once each time: so far into the words, or all of them chosen; else it stays, at first at the end. */
    cursor: () => number | 'all' | undefined;
    /** What stands below the words, given how to put a style on the chosen ones; undefined where none are chosen. */
    styles?: Snippet<[((name: string) => void) | undefined]>;
  } = $props();

  let field = $state<HTMLElement>();
  let editor = $state.raw<Editor>();
  let touched = $state(0); // the editor is not reactive; this tells when to look again
  let linking = $state(false);
  let dropped = $state<Schemas['Dropped'][]>([]);
  let several = $state.raw<{ html: string; put: Put }>(); // paragraphs that were pasted, and where they stand as one
  let problem = $state('');

  onMount(() => {
    const made = untrack(() =>
      makeEditor({
        element: field!,
        html,
        label: 'Words',
        oneLine: !links,
        onchange,
        onheld,
        // The field loses the focus while it is being taken away, when nothing may change.
        ontouch: () => queueMicrotask(() => touched++),
        onpaste: pasted,
      }),
    );
    editor = made;
    keysWait(made.view.dom, () => catchUp(made));
    goIn(made, cursor() ?? Infinity);
    return () => made.destroy();
  });

  $effect(() => {
    if (focuses && editor) untrack(() => goIn(editor!, cursor()));
  });
  /** Brings the cursor to a place in the words, or chooses all of them to be typed over: never a sealed thing unseen. */
  function goIn(made: Editor, at: number | 'all' | undefined) {
    const end = made.state.doc.content.size;
    if (at === 'all' && !html.includes('data-seal')) made.commands.selectAll();
    else if (at !== undefined) made.commands.setTextSelection(at === 'all' ? end : Math.min(1 + at, end));
    made.view.focus(); // with the selection: a key that comes with the focus alone would go to the beginning
    catchUp(made);
  }
  $effect(() => {
    if (editor && brought !== undefined) becomeWords(editor, brought);
  });
  $effect(() => {
    if (editor) tellSaid(editor, said);
  });

  async function pasted(clip: Clip) {
    if (!editor) return;
    problem = '';
    try {
      const pasted = await paste(editor, clip, (got) => got.html);
      if (!pasted) return;
      const { got, put } = pasted;
      dropped = got.dropped.filter((d) => d.what !== 'paragraph');
      several?.put.leave();
      several = undefined;
      if (onblocks && /<(p|h\d|ul|ol|table|blockquote)\b/.test(got.blocks.replace(/^<p>/, '')))
        several = { html: got.blocks, put };
      else put.leave();
    } catch (e) {
      problem = words(e);
    }
  }
  const onChosen = $derived(
    touched >= 0 && editor && someChosen(editor) ? (name: string) => void dress(editor!, name) : undefined,
  );
</script>

<div class="words">
  <WordsBar {editor} {touched} {links} {underline} {form} {forms} {onform} bind:linking />
  <div bind:this={field} onfocusout={onblur}></div>
  {#if linking && editor}
    <LinkPanel {editor} {site} {page} onclose={() => (linking = false)} />
  {/if}
  {@render styles?.(onChosen)}
  {#if problem}<p class="said small" role="alert">{problem}</p>{/if}
  {#if dropped.length}
    <p class="small soft" role="status">
      Cleaned. Left out: {dropped.map((d) => `${d.count} × ${d.what}`).join(', ')}.
    </p>
  {/if}
  {#if several && onblocks && touched >= 0 && several.put.stand}
    {@const { html, put } = several}
    <p class="small" role="status">
      What you pasted has several paragraphs.
      <button
        class="btn slim"
        onclick={() => {
          put.takeOut();
          several = undefined;
          onblocks(html);
        }}>Put them below as paragraphs</button
      >
    </p>
  {/if}
</div>

<style>
  .words {
    display: grid;
    gap: var(--step-1h);
  }
</style>
