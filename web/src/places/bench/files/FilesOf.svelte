<script lang="ts">
  import { answer, api, type Schemas } from '../../../api/client';
  import { weight } from '../../../look/time';
  import { complain } from '../../../look/toast';
  import type { EditorProps } from '../editors';
  import Choose from './Choose.svelte';

  /** The files to download that a part leads to: what they are, what else leads to them, and what may take their place. */
  let { bench, desk, request, part, act }: EditorProps = $props();

  let all = $state.raw<Schemas['LinkedFile'][]>([]);
  let choosing = $state<{ part: string; keep: boolean } | undefined>();
  const links = $derived(
    [part, ...bench.parts.filter((p) => p.parent === part.id)].map((p) => p.href ?? '').filter((h) => h.includes('.')),
  );
  const told = $derived(links.join(' ') + bench.changes.map((c) => `${c.id} ${c.say}`).join());
  $effect(() => {
    const [path, none] = [{ number: request.row.number, page: bench.page.id }, !links.length || !told];
    let gone = false;
    if (none) all = [];
    else
      answer(api.GET('/requests/{number}/bench/{page}/files', { params: { path, query: { part: part.id } } })).then(
        (got) => !gone && (all = got),
        () => {}, // the part is another by now, and is asked for again
      );
    return () => (gone = true);
  });
  const pages = (f: Schemas['LinkedFile']) => [...new Set(f.links.map((l) => l.address))];

  async function take(attachment: number) {
    const c = choosing!;
    choosing = undefined;
    try {
      await desk.flush();
      act({ do: 'download', part: c.part, attachment_id: attachment, keep: c.keep });
    } catch (e) {
      complain(e);
    }
  }
</script>

{#each all as f (f.part)}
  {@const from = pages(f)}
  <section aria-label="The file {f.name}">
    <p class="is">
      <b class="mono">{f.name}</b>
      <span class="soft">{f.size ? `${f.kind}, ${weight(f.size)}` : 'it cannot be seen'}</span>
    </p>
    <p class="small soft">
      {from.length
        ? `${f.links.length > 1 ? `${f.links.length} links lead` : 'one link leads'} to it: ${from.join(', ')}`
        : 'no live page leads to it yet'}
    </p>
    {#if choosing?.part === f.part}
      <Choose
        {desk}
        {request}
        label={choosing.keep ? `Takes the place of ${f.name}` : 'The link will lead to'}
        ontake={take}
        onleave={() => (choosing = undefined)}
      />
    {:else}
      <p class="acts">
        <button class="btn slim" onclick={() => (choosing = { part: f.part, keep: true })}
          >Replace it, same address</button
        >
        <button class="btn slim quiet" onclick={() => (choosing = { part: f.part, keep: false })}
          >Lead to another file</button
        >
      </p>
    {/if}
  </section>
{/each}

<style>
  section {
    display: grid;
    gap: var(--step);
    border: 1px solid var(--hem);
    border-radius: var(--radius);
    padding: var(--step-2);
  }
  .is {
    display: flex;
    flex-wrap: wrap;
    gap: 0 var(--step-2);
    overflow-wrap: anywhere;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-1h);
  }
</style>
