<script lang="ts">
  import { untrack } from 'svelte';
  import RunEditor from '../../parts/words/RunEditor.svelte';
  import type { EditorProps } from './editors';
  import type { Hand } from './hand.svelte';
  import { linkIn } from './links';
  import Looks from './Looks.svelte';
  import { isMarkdown } from './picture/lay';

  /** The run in hand, in its editor. */
  let { bench, desk, request, part, wish, act, refused, hand, onchoose }: EditorProps & { hand: Hand } = $props();

  // The one that was taken in hand with this editor: what is told while it is put down is told of that one.
  const own = untrack(() => hand);
  const all = ['p', 'h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'quote', 'bullets', 'numbers'] as const;
  const forms = $derived(part.forms.length ? part.forms : [...all]);
</script>

<RunEditor
  blocks={own.now}
  fresh={own.key}
  site={bench.page.site_id}
  page={bench.page.id}
  underline={!isMarkdown(bench)}
  {forms}
  goTo={own.goTo}
  brought={own.brought}
  onheld={(blocks) => own.held(blocks)}
  said={desk.saidHere.map((f) => ({ ...f, key: own.keyOf(f.part) }))}
  ontype={(blocks) => desk.typeRun(own, blocks, wish)}
  onat={(key) => {
    own.at = key;
    desk.left(own, key ?? null, wish);
  }}
  onblur={() => {
    desk.left(own, null, wish);
    desk.settle();
  }}
  ontable={refused.why('table', 'new')
    ? undefined
    : (html) => void act({ do: 'insert', part: part.id, where: 'after', html })}
  onopen={(key) => own.parts[key] && onchoose(own.parts[key])}
>
  {#snippet styles(onchosen)}
    {#key part.id}<Looks {bench} {request} {part} {act} {onchosen} />{/key}
  {/snippet}
  {#snippet link(href, says)}
    {@const it = linkIn(bench, part.id, href, says)}
    <p class="small link">
      <span class="soft">“{says}” leads to</span>
      {bench.page.address === href ? 'this page' : href}
      {#if it}<button class="btn slim quiet" onclick={() => onchoose(it.id)}>Only the link</button>{/if}
    </p>
  {/snippet}
</RunEditor>

<style>
  .link {
    overflow-wrap: anywhere;
  }
</style>
