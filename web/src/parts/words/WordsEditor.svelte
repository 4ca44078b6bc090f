<script lang="ts">
  import type { Editor } from '@tiptap/core';
  import { onMount, type Snippet, untrack } from 'svelte';
  import { answer, api, words, type Schemas } from '../../api/client';
  import { dress, makeEditor, someChosen } from './editor';
  import LinkPanel from './LinkPanel.svelte';
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
    onchange,
    onblur,
    onblocks,
    form = '',
    forms = [],
    onform,
    styles,
  }: {
    html: string;
    site: number;
    page: number;
    links: boolean;
    underline: boolean;
    /** What the rules say of the words. */
    said: Said[];
    onchange: (html: string) => void;
    onblur: () => void;
    /** Puts pasted paragraphs below the part. */
    onblocks?: (html: string) => void;
    /** What the block is, and what it may become. */
    form?: string;
    forms?: Schemas['PartForm'][];
    onform?: (form: Schemas['PartForm']) => void;
    /** What stands below the words, given how to put a style on the chosen ones; undefined where none are chosen. */
    styles?: Snippet<[((name: string) => void) | undefined]>;
  } = $props();

  let field = $state<HTMLElement>();
  let editor = $state.raw<Editor>();
  let touched = $state(0); // the editor is not reactive; this tells when to look again
  let linking = $state(false);
  let dropped = $state<Schemas['Dropped'][]>([]);
  let blocks = $state('');
  let problem = $state('');

  onMount(() => {
    const made = untrack(() =>
      makeEditor({
        element: field!,
        html,
        label: 'Words',
        onchange,
        // The field loses the focus while it is being taken away, when nothing may change.
        ontouch: () => queueMicrotask(() => touched++),
        onpaste: paste,
      }),
    );
    editor = made;
    // What is typed replaces the words, but never a sealed thing unseen.
    if (html.includes('data-seal')) made.commands.setTextSelection(made.state.doc.content.size);
    else made.commands.selectAll();
    made.view.dom.focus({ preventScroll: true });
    return () => made.destroy();
  });

  $effect(() => {
    if (editor) tellSaid(editor, said);
  });

  async function paste(markup: string, plain: boolean) {
    try {
      const got = await answer(api.POST('/clean', { body: { html: markup, plain } }));
      editor?.chain().focus().insertContent(got.html).run();
      dropped = got.dropped.filter((d) => d.what !== 'paragraph');
      blocks = /<(p|h\d|ul|ol|table|blockquote)\b/.test(got.blocks.replace(/^<p>/, '')) ? got.blocks : '';
      problem = '';
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
  {#if blocks && onblocks}
    <p class="small" role="status">
      What you pasted has several paragraphs.
      <button
        class="btn slim"
        onclick={() => {
          editor?.chain().focus().undo().run();
          onblocks(blocks);
          blocks = '';
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
