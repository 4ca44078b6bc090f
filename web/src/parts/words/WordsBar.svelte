<script lang="ts">
  import type { Editor } from '@tiptap/core';
  import type { Schemas } from '../../api/client';

  /** The row above the words: what the block is, how chosen words look, what was typed last. */
  let {
    editor,
    touched,
    links,
    underline,
    form,
    forms,
    onform,
    linking = $bindable(),
  }: {
    editor?: Editor;
    /** The editor is not reactive; this tells when to look again. */
    touched: number;
    links: boolean;
    underline: boolean;
    form: string;
    forms: Schemas['PartForm'][];
    onform?: (form: Schemas['PartForm']) => void;
    linking: boolean;
  } = $props();

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
  <button class="mark" aria-label="Undo typing" title="Undo typing" onclick={() => editor?.chain().focus().undo().run()}
    >↶</button
  >
  <button class="mark" aria-label="Redo typing" title="Redo typing" onclick={() => editor?.chain().focus().redo().run()}
    >↷</button
  >
</div>

<style>
  .bar {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step);
  }
  select.mark {
    width: 102px;
    min-width: 0;
    padding-left: var(--step);
  }
  .gap {
    flex: 1;
  }
  .mark {
    min-width: 28px;
    padding: var(--step-half) var(--step-1h);
    border: 1px solid var(--hem);
    border-radius: var(--radius);
    background: var(--paper);
    cursor: pointer;
    font-size: var(--size-m);
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
