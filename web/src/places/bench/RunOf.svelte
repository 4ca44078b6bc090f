<script lang="ts">
  import RunEditor from '../../parts/words/RunEditor.svelte';
  import type { EditorProps } from './editors';
  import type { Hand } from './hand.svelte';
  import { linkIn } from './links';
  import Looks from './Looks.svelte';
  import { isMarkdown } from './picture/lay';

  /** The run in hand, in its editor. */
  let { bench, desk, request, part, wish, act, hand, onchoose }: EditorProps & { hand: Hand } = $props();

  const all = ['p', 'h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'quote', 'bullets', 'numbers'] as const;
  const forms = $derived(part.forms.length ? part.forms : [...all]);
</script>

<RunEditor
  blocks={hand.now}
  fresh={hand.key}
  site={bench.page.site_id}
  page={bench.page.id}
  underline={!isMarkdown(bench)}
  {forms}
  goTo={hand.goTo}
  brought={hand.brought}
  onheld={(blocks) => hand.held(blocks)}
  said={desk.saidHere.map((f) => ({ ...f, key: hand.keyOf(f.part) }))}
  ontype={(blocks) => desk.typeRun(hand, blocks, wish)}
  onat={(key) => {
    hand.at = key;
    desk.left(hand, key ?? null, wish);
  }}
  onblur={() => {
    desk.left(hand, null, wish);
    desk.settle();
  }}
  onopen={(key) => hand.parts[key] && onchoose(hand.parts[key])}
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
