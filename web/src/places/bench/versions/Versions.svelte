<script lang="ts">
  import { Asked } from '../../../api/asked.svelte';
  import { Doing } from '../../../look/doing.svelte';
  import { answer, api, type Schemas } from '../../../api/client';
  import { zoneOf } from '../../../api/session.svelte';
  import { onKeys } from '../../../look/keys.svelte';
  import Segments from '../../../look/Segments.svelte';
  import { momentWords } from '../../../look/time';
  import Loaded from '../../../parts/Loaded.svelte';
  import type { Act, BenchPage } from '../desk.svelte';
  import Difference from './Difference.svelte';
  import VersionList from './VersionList.svelte';

  /** Every version of the page that stood on its host, each beside the draft of today, in the place of the page. */
  let {
    bench,
    desk,
    number,
    wish,
    onchoose,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    number: number;
    wish?: number;
    onchoose: (id: string | undefined) => void;
  } = $props();

  const at = $derived({ number, page: bench.page.id });
  const zone = $derived(zoneOf(bench.page.site_id));
  let chosen = $state<number>();
  let shows = $state<'parts' | 'page'>('parts');
  const doing = new Doing();
  const versions = new Asked(async () => {
    const all = await answer(api.GET('/requests/{number}/bench/{page}/versions', { params: { path: at } }));
    chosen ??= (all[1] ?? all[0])?.id;
    return all;
  });
  const told = new Asked(() =>
    answer(
      api.GET('/requests/{number}/bench/{page}/versions/{version}', {
        params: { path: { ...at, version: chosen! } },
      }),
    ),
  );
  $effect(() => void versions.again());
  $effect(() => {
    void bench.draft;
    if (chosen) void told.again();
  });
  const about = $derived(versions.got?.find((v) => v.id === chosen));
  const fresh = $derived(told.got?.version.id === chosen ? told.got : undefined);
  const picture = $derived(new URL(`?mendry-version=${chosen}`, bench.draft_url).href);

  const back = (act: Act, leave = false) =>
    doing.run(async () => {
      const made = await desk.make(act, wish);
      if (desk.problem && desk.unsent.aside.length) return;
      if (leave) {
        close();
        onchoose(made);
      }
    });
  const close = () => (desk.looksBack = false);
  onKeys(() => ({ Escape: (down) => down && close() }));
</script>

<section class="work" aria-label="Earlier versions">
  <header>
    <span class="mono"><b>{bench.page.address}</b></span>
    <h2>Earlier versions</h2>
    <Segments
      label="What is shown of it"
      choices={[
        { value: 'parts', label: 'part by part' },
        { value: 'page', label: 'the page then' },
      ]}
      bind:value={shows}
    />
    <button class="btn" onclick={close}>Back to the page</button>
  </header>
  <Loaded of={versions} say="Going through what stood there…">
    {#snippet children(all)}
      <VersionList {all} {zone} {chosen} onchoose={(id) => (chosen = id)} />
    {/snippet}
  </Loaded>
  <div class="told">
    {#if shows === 'page' && chosen}
      <p class="small soft">
        {#if about}As it stood there since {momentWords(about.at, zone)}; this is a look back, nothing more.{/if}
      </p>
      <iframe src={picture} title="The page as it was then" sandbox="allow-scripts" referrerpolicy="no-referrer"
      ></iframe>
    {:else if fresh}
      <Difference
        {zone}
        told={fresh}
        busy={doing.busy}
        onback={(row) => back({ do: 'restore', version: chosen!, row })}
        onsection={(part) => back({ do: 'restore', version: chosen!, part })}
        onpage={() => back({ do: 'restore', version: chosen! }, true)}
      />
    {:else if chosen}
      <Loaded of={told} say="Comparing part by part…" />
    {/if}
  </div>
</section>

<style>
  .work {
    grid-area: 2 / 1 / 4 / 2;
    min-height: 0;
    background: var(--linen);
    display: grid;
    grid-template: auto minmax(0, 1fr) / 316px minmax(0, 1fr);
  }
  header {
    grid-column: 1 / -1;
    display: flex;
    gap: var(--step-3);
    align-items: center;
    padding: var(--step-2h) var(--step-5);
    border-bottom: 1px solid var(--hem-strong);
    background: var(--paper);
  }
  h2 {
    font-size: var(--size-l);
  }
  header .btn {
    margin-left: auto;
  }
  .told {
    display: flex;
    flex-direction: column;
    min-height: 0;
    overflow: auto;
  }
  .told > p {
    padding: var(--step-1h) var(--step-5);
    background: var(--paper);
    border-bottom: 1px solid var(--hem);
  }
  iframe {
    flex: 1;
    min-height: 0;
    border: 0;
    background: #fff;
  }
</style>
