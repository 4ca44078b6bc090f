<script lang="ts">
  import { answer, api, type Schemas } from '../../../api/client';
  import type { EditorProps } from '../editors';

  /** The pictures that stand behind a part, or under what was pointed at: they cannot be pointed at themselves. One that a
   * style sheet puts there is asked for. */
  let { bench, desk, request, part, onchoose }: EditorProps = $props();
  const behind = $derived(
    bench.parts.filter((p) => p.picture && (p.id === desk.under || (p.parent === part.id && p.picture.background))),
  );
  let bySheet = $state.raw<Schemas['PartBehind']>();
  const path = $derived(`${request.row.number} ${bench.page.id} ${part.edit ? '' : part.id}`); // not again at each keep
  $effect(() => {
    const [number, page, asked] = path.split(' ');
    bySheet = undefined;
    if (!asked) return; // words have none
    let gone = false;
    answer(
      api.GET('/requests/{number}/bench/{page}/behind', {
        params: { path: { number: Number(number), page: Number(page) }, query: { part: asked } },
      }),
    ).then(
      (got) => !gone && (bySheet = got.src || got.may ? got : undefined),
      () => {}, // the part is another one by now, and is asked about anew
    );
    return () => (gone = true);
  });
</script>

{#each behind as p (p.id)}
  <p><button class="btn slim" onclick={() => onchoose(p.id)}>The picture behind it</button></p>
{/each}
{#if bySheet?.may && !behind.some((p) => p.parent === part.id)}
  <p>
    <button class="btn slim" onclick={() => (desk.picking = { part: part.id, from: { path: '' }, behind: '' })}
      >A picture behind it</button
    >
  </p>
{:else if bySheet?.src && !behind.some((p) => p.parent === part.id)}
  <div class="now">
    <img src={new URL(bySheet.src, bench.draft_url).href} alt="" />
    <p class="small soft">
      behind it, by {bySheet.sheet ? 'the site’s style sheet' : 'a style sheet in the page'}
      {#if bySheet.sheet}<span class="mono">{bySheet.sheet}</span>{/if}
      {#if bySheet.width}, {bySheet.width} × {bySheet.height}{/if}
    </p>
  </div>
  <p>
    <button
      class="btn slim"
      onclick={() => (desk.picking = { part: part.id, from: { path: '' }, behind: bySheet!.src })}
      >Another picture behind it</button
    >
  </p>
{/if}

<style>
  .now {
    display: flex;
    gap: var(--step-2h);
    align-items: center;
    overflow-wrap: anywhere;
  }
  img {
    flex: none;
    width: 96px;
    height: 60px;
    object-fit: cover;
    background: var(--linen);
  }
</style>
