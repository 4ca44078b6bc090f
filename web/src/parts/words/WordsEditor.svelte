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
    page,
    links,
    underline,
    onchange,
    onblur,
    onblocks,
    onsplit,
    form = '',
    forms = [],
    onform,
  }: {
    html: string;
    site: number;
    page: number;
    links: boolean;
    underline: boolean;
    onchange: (html: string) => void;
    onblur: () => void;
    /** Puts pasted paragraphs below the part. */
    onblocks?: (html: string) => void;
    /** Begins a new part below with the words after the cursor. */
    onsplit?: (html: string, rest: string) => void;
    /** What the block is, and what it may become. */
    form?: string;
    forms?: Schemas['PartForm'][];
    onform?: (form: Schemas['PartForm']) => void;
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
        onsplit,
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
  const formWords: Record<Schemas['PartForm'], string> = {
    p: 'Paragraph',
    h1: 'Heading 1',
    h2: 'Heading 2',
    h3: 'Heading 3',
    h4: 'Heading 4',
    h5: 'Heading 5',
    h6: 'Heading 6',
    quote: 'Quote',
    bullets: 'Bulleted',
    numbers: 'Numbered',
    th: 'Header cell',
    td: 'Plain cell',
  };
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
    {#if forms.length && onform}
      <select
        class="mark"
        aria-label="What the block is"
        value={form}
        onchange={(e) => onform(e.currentTarget.value as Schemas['PartForm'])}
      >
        {#each forms as f (f)}<option value={f}>{formWords[f]}</option>{/each}
      </select>
    {/if}
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
    <LinkPanel {editor} {site} {page} onclose={() => (linking = false)} />
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
    flex-wrap: wrap;
    gap: 3px;
  }
  select.mark {
    width: 102px;
    min-width: 0;
    padding-left: 4px;
  }
  .gap {
    flex: 1;
  }
  .mark {
    min-width: 28px;
    padding: 2px 6px;
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
