<script lang="ts">
  import type { Schemas } from '../../../api/client';
  import { answer, api } from '../../../api/client';
  import { Asked } from '../../../api/asked.svelte';
  import { onKeys } from '../../../look/keys.svelte';
  import Segments from '../../../look/Segments.svelte';
  import { complain } from '../../../look/toast';
  import Loaded from '../../../parts/Loaded.svelte';
  import type { Act, BenchPage } from '../desk.svelte';
  import Card from './Card.svelte';
  import Kinds from './Kinds.svelte';
  import { ofKind, samples, sought } from './samples';
  import Sketch from './Sketch.svelte';

  /** A new section is chosen, in the place of the page: one that the site has, or a plain one. */
  let {
    bench,
    desk,
    site,
    part,
    wish,
    onclose,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    site: number;
    /** That it stands beside. */
    part: Schemas['Part'];
    wish?: number;
    onclose: (made?: string) => void;
  } = $props();

  let where = $state<'before' | 'after'>('after');
  let keeps = $state<'prompts' | 'all'>('prompts');
  /** It stands beside a part that other pages have too: there it can stand on all of them. */
  const pages = $derived(part.shared.match(/\d+/)?.[0]);
  let reach = $state<'this' | 'all'>('this');
  let kind = $state('');
  let words = $state('');
  let taking = $state(false);
  const asked = new Asked(() => answer(api.GET('/sites/{site}/sections', { params: { path: { site } } })));
  const waits = $derived((asked.got?.left ?? 0) + (asked.got?.drawing ?? 0));
  $effect(() => {
    void api.POST('/sites/{site}/sections', { params: { path: { site } } }).then(() => asked.again());
  });
  $effect(() => {
    if (!asked.got || !waits) return;
    const later = setTimeout(() => asked.again(), 1500);
    return () => clearTimeout(later);
  });
  const all = $derived(asked.got?.sections ?? []);
  const found = $derived(sought(ofKind(all, kind), words));
  const plain = $derived(samples.find((s) => s.kind === kind && s.kind !== 'video'));

  async function take(act: Act) {
    taking = true;
    try {
      const made = await desk.make(act, wish, reach === 'all' && !!pages);
      if (desk.problem && desk.unsent.aside.length) return;
      onclose(made);
    } catch (e) {
      complain(e);
      asked.again();
    } finally {
      taking = false;
    }
  }
  const from = (s: Schemas['LentSection']) =>
    `on ${s.address}${s.pages > 1 ? ` and ${s.pages - 1} more` : s.alike > 1 ? `, ${s.alike} times` : ''}`;
  onKeys(() => ({ Escape: (down) => down && onclose() }));
</script>

<section class="work" aria-label="A new section">
  <header>
    <span class="mono"><b>{bench.page.address}</b></span>
    <h2>A new section</h2>
    <Segments
      label="Where it stands"
      choices={[
        { value: 'before', label: 'before' },
        { value: 'after', label: 'after' },
      ]}
      bind:value={where}
    />
    <b class="anchor">“{part.name.replace(/[“”]/g, '')}”</b>
    {#if pages}
      <Segments
        label="On which pages"
        choices={[
          { value: 'this', label: 'on this page alone' },
          { value: 'all', label: `on all ${pages} pages that have it` },
        ]}
        bind:value={reach}
      />
    {:else}<span class="soft small">on this page alone</span>{/if}
    <button class="btn quiet" onclick={() => onclose()}>Leave it</button>
  </header>
  <Kinds {all} bind:kind />
  <div class="choose">
    <p class="bar">
      <input
        class="box"
        type="search"
        aria-label="Search the site’s sections"
        placeholder="words, page, what is in it"
        bind:value={words}
      />
      <Segments
        label="What stands in it"
        choices={[
          {
            value: 'prompts',
            label: 'with prompts to fill',
            title: 'Words and pictures become prompts; publishing waits until they are filled.',
          },
          { value: 'all', label: 'with all that is in it', title: 'Its words and pictures come along.' },
        ]}
        bind:value={keeps}
      />
      <span class="soft small" role="status">
        {#if asked.got?.left}{asked.got.left} pages are still to be looked through…{:else if asked.got?.drawing}{asked
            .got.drawing} small pictures are still to come…{/if}
      </span>
    </p>
    <Loaded of={asked} small say="The site’s sections are looked for…">
      <ul>
        {#each found as s (s.page_id + s.part)}
          <li>
            <Card
              name={s.name}
              holds={s.holds}
              from={from(s)}
              busy={taking}
              onpick={() =>
                take({
                  do: 'borrow',
                  part: part.id,
                  where,
                  page: s.page_id,
                  of: s.of,
                  section: s.part,
                  kept: keeps === 'all',
                })}
            >
              {#if s.small}<img src="/api/sites/{site}/sections/{s.small}" alt="" loading="lazy" />
              {:else}<span class="words small soft">{s.words}</span>{/if}
            </Card>
          </li>
        {/each}
        {#if plain && !words}
          <li>
            <Card
              name={plain.name}
              holds="a plain one, with prompts to fill"
              from={found.length ? 'in no style of the site' : 'the site has none like it'}
              busy={taking}
              onpick={() => take({ do: 'starter', part: part.id, where, kind: plain.kind })}
            >
              <Sketch of={plain} wide={150} />
            </Card>
          </li>
        {/if}
      </ul>
      {#if !found.length && !plain}
        <p class="soft">
          {#if words}No section of the site answers to that.{:else if kind === 'video'}The site has no section with a
            film. Begin with words; a film goes below them with “Film”.{:else if !waits}The site has no section to
            borrow. Choose a plain one at the left.{/if}
        </p>
      {/if}
    </Loaded>
  </div>
</section>

<style>
  .work {
    grid-area: 2 / 1 / 4 / 2;
    min-height: 0;
    background: var(--linen);
    display: grid;
    grid-template: auto minmax(0, 1fr) / 246px minmax(0, 1fr);
  }
  header {
    grid-column: 1 / -1;
    display: flex;
    gap: var(--step-2h);
    align-items: center;
    padding: var(--step-2h) var(--step-5);
    border-bottom: 1px solid var(--hem-strong);
    background: var(--paper);
  }
  h2 {
    font-size: var(--size-l);
    margin-left: var(--step-2h);
  }
  .anchor {
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  header .btn {
    margin-left: auto;
  }
  .choose {
    overflow-y: auto;
    padding: var(--step-3) var(--step-5);
  }
  .bar {
    display: flex;
    gap: var(--step-3);
    align-items: center;
    margin-bottom: var(--step-3);
  }
  .bar input {
    max-width: 260px;
  }
  ul {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
    gap: var(--step-3);
  }
  img {
    display: block;
    width: 100%;
    height: 132px;
    object-fit: contain;
  }
  .words {
    padding: var(--step-2);
    overflow: hidden;
  }
</style>
