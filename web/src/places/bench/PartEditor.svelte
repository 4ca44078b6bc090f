<script lang="ts">
  import { type Schemas } from '../../api/client';
  import { ahead, anAct } from '../../look/ahead';
  import { complain } from '../../look/toast';
  import type { Act, BenchPage } from './desk.svelte';
  import { editorsOf } from './editors';
  import NewFile from './files/NewFile.svelte';
  import PutVideo from './video/PutVideo.svelte';
  import ClientNotes from './ClientNotes.svelte';
  import { notesOf } from './notes';
  import MoveToPage from './sections/MoveToPage.svelte';
  import PartActs from './PartActs.svelte';
  import { asWhole } from './thread';
  import SharedWith from './SharedWith.svelte';
  import PagesOf from '../../parts/PagesOf.svelte';
  import { Refused } from './refused.svelte';
  import { sharedRoot } from './shared';

  let {
    bench,
    desk,
    request,
    part,
    wish,
    onchoose,
  }: {
    bench: Schemas['Bench'];
    desk: BenchPage;
    request: Schemas['Request'];
    part: Schemas['Part'];
    wish?: number;
    onchoose: (id: string | undefined, awaited?: boolean) => void;
  } = $props();

  const parent = $derived(bench.parts.find((p) => p.id === part.parent));
  const root = $derived(sharedRoot(bench.parts, part));
  const change = $derived(bench.changes.find((c) => c.id === part.change_id));
  const refused = new Refused(() => ({
    number: request.row.number,
    page: bench.page.id,
    part: part.id,
    built: `${bench.parts.length}`, // typing on changes no part, and what would be refused neither
  }));
  const editors = $derived(editorsOf(part.kind));
  let putting = $state<'file' | 'film' | 'page' | undefined>();
  /** Acts that leave a prompt to type over. */
  const begins = ['table', 'put', 'add-column', 'add-item'];
  const kinds: Record<string, string> = { words: 'words', cell: 'table cell' };

  /** Makes a change and goes on in the part that it made. */
  async function act(f: Act) {
    const own = part.id;
    try {
      onchoose(undefined);
      const untaken = desk.untaken();
      if (f.do === 'insert' || begins.includes(f.do)) ahead.comes(anAct);
      const made = await desk.make(f, wish);
      if (!untaken()) return;
      // What is typed in something new takes the place of what stands there for words.
      desk.cursor = made && begins.includes(f.do) ? 'all' : undefined;
      if (made ?? desk.problem) onchoose(made ?? own, !!made);
    } catch (e) {
      ahead.goes();
      complain(e);
    }
  }
</script>

<article>
  <header>
    <h2>{part.name}</h2>
    <span class="soft small">{kinds[part.kind] ?? part.kind}</span>
    <button class="x" aria-label="Put the part down" onclick={() => onchoose(undefined)}>×</button>
  </header>
  {#if parent}<p class="small in">
      in <button onclick={() => onchoose(parent.id)}
        >the {kinds[parent.kind] ?? parent.kind} “{parent.name.replace(/[“”]/g, '')}”</button
      >
    </p>{/if}
  <ClientNotes notes={notesOf(request.notes, bench.changes, bench.page.id, part)} />
  {#if root && !part.locked}<SharedWith {bench} {desk} number={request.row.number} {part} {root} />{/if}
  {#if root && !root.reach && !part.locked}
    <p class="small soft">It can be changed once that is said.</p>
  {:else if part.locked}
    <p class="said look"><b>Locked.</b> {part.locked}</p>
  {:else}
    {#if putting}
      {#if putting === 'page'}<MoveToPage
          {bench}
          {desk}
          {request}
          {part}
          {wish}
          onleave={() => (putting = undefined)}
        />
      {:else if putting === 'file'}<NewFile {desk} {request} {part} {act} onleave={() => (putting = undefined)} />
      {:else}<PutVideo {desk} {request} {part} {act} onleave={() => (putting = undefined)} />{/if}
    {:else}
      {#each editors as Editor, i (i)}
        <Editor {bench} {desk} {request} {part} {wish} {act} {refused} {onchoose} />
      {/each}
      <PartActs
        {part}
        {bench}
        {act}
        {refused}
        onpicture={async (where) => {
          await desk.flush();
          desk.picking = { part: part.id, put: 'new', where };
        }}
        onfile={() => (putting = 'file')}
        onfilm={() => (putting = 'film')}
        onpage={() => (putting = 'page')}
        onsection={async () => {
          await desk.flush();
          desk.adding = part.around;
        }}
      />
    {/if}
    {#if change && !putting}
      <p class="small undo">
        <span class="is-kept">{change.state === 'going' ? 'going out with a release' : 'kept, not live'}</span>
        {#if change.state === 'kept'}<button
            class="btn slim quiet"
            onclick={async () => {
              const untaken = desk.untaken();
              try {
                await desk.drop(change.id);
                if (untaken()) onchoose(undefined);
              } catch (e) {
                complain(e);
              }
            }}>Undo this change{asWhole(change)}</button
          >{/if}
      </p>
      {#if change.on_pages + change.left_on > 1}
        <PagesOf number={request.row.number} {change} onchange={() => void desk.again()} />
      {/if}
    {/if}
  {/if}
</article>

<style>
  article {
    padding: var(--step-2h) var(--step-3h) var(--step-3);
    display: grid;
    grid-template-columns: minmax(0, 1fr);
    gap: var(--step-2);
  }
  header {
    display: flex;
    gap: var(--step-2h);
    align-items: baseline;
  }
  h2 {
    font-size: var(--size-l);
    flex: 1;
    overflow-wrap: anywhere;
  }
  .x {
    font-size: var(--size-h);
    line-height: 1;
    padding: var(--step-half) var(--step-1h);
    cursor: pointer;
  }
  .in button {
    text-decoration: underline;
    cursor: pointer;
  }
  .in {
    margin-top: -6px;
    color: var(--ink-soft);
  }
  .undo {
    display: flex;
    justify-content: space-between;
    align-items: center;
    border-top: 1px dashed var(--weld);
    padding-top: var(--step-1h);
  }
</style>
