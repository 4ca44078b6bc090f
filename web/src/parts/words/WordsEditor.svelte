<script lang="ts">
  import type { Editor } from '@tiptap/core';
  import { onMount, untrack } from 'svelte';
  import { answer, api, words, type Schemas } from '../../api/client';
  import { makeEditor } from './editor';
  import LinkPanel from './LinkPanel.svelte';

  /** The editor for the words of a part. */
  let {
    html,
    site,
    links,
    underline,
    onchange,
    onblur,
    onblocks,
  }: {
    html: string;
    site: number;
    links: boolean;
    underline: boolean;
    onchange: (html: string) => void;
    onblur: () => void;
    /** Puts pasted paragraphs below the part. */
    onblocks?: (html: string) => void;
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
        ontouch: () => touched++,
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
  const is = (name: string) => touched >= 0 && !!editor?.isActive(name);
  const marks = [
    { name: 'bold', label: 'Bold', sign: 'B', act: (e: Editor) => e.chain().focus().toggleBold().run() },
    { name: 'italic', label: 'Italic', sign: 'I', act: (e: Editor) => e.chain().focus().toggleItalic().run() },
    {
      name: 'underline',
      label: 'Underlined',
      sign: 'U',
      act: (e: Editor) => e.chain().focus().toggleUnderline().run(),
    },
  ];
</script>

<div class="words">
  <div class="bar" role="toolbar" aria-label="How the words look">
    {#each marks.filter((m) => underline || m.name !== 'underline') as m (m.name)}
      <button
        class={['mark', m.name]}
        aria-label={m.label}
        aria-pressed={is(m.name)}
        title={m.label}
        onmousedown={(e) => e.preventDefault()}
        onclick={() => editor && m.act(editor)}>{m.sign}</button
      >
    {/each}
    {#if links}
      <button class="mark" aria-pressed={is('link')} aria-expanded={linking} onclick={() => (linking = !linking)}
        >Link</button
      >
    {/if}
    <span class="gap"></span>
    <button
      class="mark"
      aria-label="Undo typing"
      title="Undo typing"
      onclick={() => editor?.chain().focus().undo().run()}>↶</button
    >
    <button
      class="mark"
      aria-label="Redo typing"
      title="Redo typing"
      onclick={() => editor?.chain().focus().redo().run()}>↷</button
    >
  </div>
  <div bind:this={field} onfocusout={onblur}></div>
  {#if linking && editor}
    <LinkPanel {editor} {site} onclose={() => (linking = false)} />
  {/if}
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
    gap: 6px;
  }
  .bar {
    display: flex;
    gap: 3px;
  }
  .gap {
    flex: 1;
  }
  .mark {
    min-width: 30px;
    padding: 2px 8px;
    border: 1px solid var(--hem);
    border-radius: var(--radius);
    background: var(--paper);
    cursor: pointer;
    font-size: 14px;
  }
  .mark[aria-pressed='true'] {
    background: var(--indigo);
    border-color: var(--indigo);
    color: var(--paper);
  }
  .bold {
    font-weight: 700;
  }
  .italic {
    font-style: italic;
  }
  .underline {
    text-decoration: underline;
  }
</style>
