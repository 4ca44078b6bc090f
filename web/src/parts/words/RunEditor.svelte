<script lang="ts">
  import type { Editor } from '@tiptap/core';
  import { onMount, type Snippet, untrack } from 'svelte';
  import { words, type Schemas } from '../../api/client';
  import { keysWait } from '../../look/keys.svelte';
  import type { Block } from './blocks';
  import { catchUp } from './catchUp';
  import { dress } from './editor';
  import LinkPanel from './LinkPanel.svelte';
  import { type Clip, paste, tablesIn } from './paste';
  import { become } from './become';
  import { cursorIn, drag, formAt, linkAt, makeRunEditor, standing, turn } from './runEditor';
  import { type Said, tellSaid } from './said';
  import WordsBar from './WordsBar.svelte';

  /** The editor for a run of blocks: headings, paragraphs, lists and quotes in one document. */
  let {
    blocks,
    fresh,
    site,
    page,
    underline,
    forms,
    goTo,
    brought,
    onheld,
    said,
    ontype,
    onat,
    onblur,
    onopen,
    ontable,
    styles,
    link,
  }: {
    blocks: Block[];
    fresh: () => string;
    site: number;
    page: number;
    underline: boolean;
    forms: Schemas['PartForm'][];
    /** Where the cursor goes: into a block, so far into it or all of it chosen. Without it the focus stays where it is. */
    goTo?: { key: string; at?: number | 'all' };
    /** The blocks as others left them meanwhile, with what was typed here. */
    brought?: Block[];
    /** Told the blocks as the editor writes them, when it took them in and nobody typed. */
    onheld: (blocks: Block[]) => void;
    /** What the rules say of words in the blocks. */
    said: Said[];
    ontype: (blocks: Block[]) => void;
    onat: (key: string | undefined) => void;
    onblur: () => void;
    onopen: (key: string) => void;
    /** Puts a table below the block that the cursor is in; undefined where none can stand. */
    ontable?: (html: string) => void;
    /** What stands below the words, given how to put a style on the chosen ones; undefined where none are chosen. */
    styles?: Snippet<[((name: string) => void) | undefined]>;
    /** What is told of the link that the cursor is in, given where it leads and what it says. */
    link?: Snippet<[href: string, says: string]>;
  } = $props();

  let field = $state<HTMLElement>();
  let editor = $state.raw<Editor>();
  let touched = $state(0); // the editor is not reactive; this tells when to look again
  let linking = $state(false);
  let dropped = $state<Schemas['Dropped'][]>([]);
  let problem = $state('');
  let inLines = $state(''); // tables that were pasted among words, whose cells stand in lines

  onMount(() => {
    const made = untrack(() =>
      makeRunEditor({
        element: field!,
        blocks,
        fresh,
        onchange: ontype,
        onheld,
        // The field loses the focus while it is being taken away, when nothing may change.
        ontouch: (key) =>
          queueMicrotask(() => {
            if (editor?.isDestroyed) return;
            touched++;
            onat(key);
          }),
        onpaste: pasted,
        onopen,
      }),
    );
    editor = made;
    keysWait(made.view.dom, () => catchUp(made));
    return () => made.destroy();
  });
  $effect(() => {
    if (!editor || !goTo) return;
    cursorIn(editor, goTo.key, goTo.at);
    editor.view.focus(); // with the selection, which the focus alone would not bring along
    show(editor);
    untrack(() => catchUp(editor!));
  });
  $effect(() => {
    if (editor && brought) become(editor, brought);
  });
  $effect(() => {
    if (editor) tellSaid(editor, said);
  });
  /** Scrolls the field, and nothing around it, so that the cursor is seen. */
  function show(e: Editor) {
    const room = field!.parentElement!;
    const box = room.getBoundingClientRect();
    const at = e.view.coordsAtPos(e.state.selection.from);
    if (at.top < box.top + 8 || at.bottom > box.bottom - 8) room.scrollTop += at.top - box.top - box.height / 3;
  }

  async function pasted(clip: Clip) {
    if (!editor) return;
    const several = (got: Schemas['Cleaned']) => /<(p|h\d|ul|ol|blockquote)\b/.test(got.blocks.replace(/^<p>/, ''));
    problem = '';
    try {
      const pasted = await paste(editor, clip, (got) => (several(got) ? got.blocks : got.html));
      const tables =
        pasted && ontable && !/^(bullets|numbers|quote)$/.test(form) ? tablesIn(pasted.got.blocks) : undefined;
      if (pasted && tables?.alone && pasted.put.stand) {
        pasted.put.takeOut(); // its cells stood there in lines
        ontable?.(tables.html);
        return;
      }
      pasted?.put.leave();
      inLines = tables?.html ?? '';
      if (pasted) dropped = pasted.got.dropped.filter((d) => d.what !== 'paragraph' || !several(pasted.got));
    } catch (e) {
      problem = words(e);
    }
  }
  const form = $derived(touched >= 0 && editor ? (formAt(editor) as Schemas['PartForm']) : 'p');
  const offered = $derived([...new Set([...forms, form])]);
  const grips = $derived(touched >= 0 && editor ? standing(editor) : []);
  const inLink = $derived(touched >= 0 && editor ? linkAt(editor) : undefined);
  const onChosen = $derived(
    touched >= 0 && editor && !editor.state.selection.empty ? (name: string) => void dress(editor!, name) : undefined,
  );
</script>

<div class="words">
  <WordsBar
    {editor}
    {touched}
    links
    {underline}
    {form}
    forms={offered}
    onform={(f) => editor && turn(editor, f)}
    bind:linking
  />
  <div class="run">
    {#each grips as g (g.at)}
      <span
        class="grip"
        role="presentation"
        draggable="true"
        title="Drag the block; Alt and an arrow key move it too"
        style:top="{g.top}px"
        style:height="{g.tall}px"
        ondragstart={(e) => editor && drag(editor, g.at, e)}
      ></span>
    {/each}
    <div bind:this={field} onfocusout={onblur}></div>
  </div>
  {#if linking && editor}
    <LinkPanel {editor} {site} {page} onclose={() => (linking = false)} />
  {/if}
  {#if inLink}{@render link?.(inLink.href, inLink.says)}{/if}
  {@render styles?.(onChosen)}
  {#if problem}<p class="said small" role="alert">{problem}</p>{/if}
  {#if inLines}
    <p class="small" role="status">
      A table was among it: its cells stand in lines.
      <button
        class="btn slim"
        onclick={() => {
          ontable?.(inLines);
          inLines = '';
        }}>Put it below as a table</button
      >
    </p>
  {/if}
  {#if dropped.length}
    <p class="small soft" role="status">
      Cleaned. Left out: {dropped.map((d) => `${d.count} × ${d.what}`).join(', ')}.
    </p>
  {/if}
</div>

<style>
  .words {
    display: grid;
    grid-template-columns: minmax(0, 1fr);
    gap: var(--step-1h);
  }
  .run {
    max-height: 46vh;
    overflow: auto;
    border: 1px solid var(--hem);
    border-radius: var(--radius);
    background: var(--paper);
    position: relative;
  }
  .run:focus-within {
    outline: 2px solid var(--indigo);
    outline-offset: -1px;
  }
  .grip {
    position: absolute;
    left: 7px;
    width: 8px;
    z-index: 1;
    cursor: grab;
    border-left: 3px dashed var(--hem-strong);
  }
  .grip:hover {
    border-color: var(--indigo);
  }
</style>
