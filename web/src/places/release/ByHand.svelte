<script lang="ts">
  import { answer, api, type Schemas } from '../../api/client';
  import { publicAddress } from '../../look/address';
  import { copy } from '../../look/copy';
  import Key from '../../look/Key.svelte';
  import { onKeys } from '../../look/keys.svelte';
  import { complain, say } from '../../look/toast';
  import { clockWords } from '../../look/time';
  import HandItem from './HandItem.svelte';
  import HandSaw from './HandSaw.svelte';
  import { copies, rowsOf, settled, type Row } from './hand';

  /** A release that a person puts in: the list, and what Mendry sees of it. */
  let {
    release: r,
    publicUrl,
    zone,
    mail,
    subject,
    busy,
    run,
    onact,
  }: {
    release: Schemas['Release'];
    publicUrl: string;
    zone?: string;
    mail: string;
    subject: string;
    busy: boolean;
    run: (act: () => Promise<unknown>) => Promise<void>;
    onact: (act: Schemas['ReleaseAct']) => void;
  } = $props();

  const rows = $derived(rowsOf(r));
  const open = $derived(rows.filter((x) => !settled(x.item)));
  let chosen = $state(0); // the number of the item that was pointed at, 0 where none was
  const current = $derived(open.find((x) => x.n >= chosen) ?? open[0]); // the next one, where it is settled
  let copied = $state<Record<number, number>>({});
  const looking = $derived(!!r.look_at);
  const clock = (moment: string) => clockWords(moment, zone);

  const said = (body: Schemas['HandMark']) =>
    run(() => answer(api.POST('/releases/{release}/marks', { params: { path: { release: r.id } }, body })));
  const mark = (row: Row, kind: Schemas['HandMarkKind']) =>
    said({ step: row.step.id, kind, about: String(row.item.n) });
  const theirs = (step: number, about: string) => said({ step, kind: 'theirs', about });
  async function take(row: Row, text: string) {
    try {
      await copy(text);
      copied[row.n] = copies(row).indexOf(text) + 1;
      say(`Copied: ${text.length > 60 ? text.slice(0, 60) + '…' : text}`);
    } catch (e) {
      complain(e);
    }
  }
  const put = () => {
    if (!current || busy || looking) return;
    chosen = current.n;
    return mark(current, 'put');
  };
  function step(by: number) {
    const at = open.findIndex((x) => x.n === current?.n);
    chosen = open[Math.min(Math.max(at + by, 0), open.length - 1)]?.n ?? 0;
  }
  onKeys(() => ({
    c: (down) => {
      if (!down || !current) return;
      const all = copies(current);
      if (all.length) take(current, all[(copied[current.n] ?? 0) % all.length]!);
    },
    Enter: (down) => {
      const on = document.activeElement;
      if (down && !(on instanceof HTMLButtonElement) && !(on instanceof HTMLAnchorElement)) put();
    },
    ArrowDown: (down) => down && step(1),
    ArrowUp: (down) => down && step(-1),
  }));
</script>

<section class="byhand" aria-label={r.undoes ? 'Put back by hand' : 'Release by hand'}>
  <div class="list">
    <p>
      <b>Mendry may only read this site.</b>
      {#if open.length === 0}All of it is there; Mendry makes sure that visitors get it.
      {:else if r.undoes}Put {open.length === 1 ? 'this one thing' : `these ${open.length} things`} back where you edit it.
        Mendry looks at the live page after each.
      {:else}Put {open.length === 1 ? 'this one thing' : `these ${open.length} things`} in where you edit it, in this order.
        Mendry looks at the live page after each.{/if}

      <span class="soft">Leave any time; the list stays.</span>
    </p>
    <ol>
      {#each rows as row (row.n)}
        <HandItem
          {row}
          release={r.id}
          current={row.n === current?.n}
          copied={copied[row.n] ?? 0}
          looking={looking && row.item.put}
          {clock}
          oncurrent={() => (chosen = row.n)}
          oncopy={(text) => take(row, text)}
          ontake={() => mark(row, 'taken')}
        />
      {/each}
    </ol>
    <p class="acts">
      {#if current}
        <button class="btn go" disabled={busy || looking} onclick={put}
          >{looking ? 'Looking…' : 'I have put it in: look'} <Key k="Enter" /></button
        >
        {#if r.edit_url}<a class="btn" href={r.edit_url} target="_blank" rel="noopener">Open where it is edited</a>{/if}
        <a class="btn" href={publicAddress(publicUrl, current.step.address)} target="_blank" rel="noopener"
          >Open the page</a
        >
      {/if}
    </p>
  </div>
  <HandSaw release={r} {mail} {subject} {busy} {clock} ontheirs={theirs} {onact} />
</section>

<style>
  .byhand {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 340px;
    gap: var(--step-5);
    align-items: start;
  }
  .list,
  ol {
    display: grid;
    gap: var(--step-2h);
  }
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  .acts {
    display: flex;
    gap: var(--step-3);
    align-items: center;
    position: sticky;
    bottom: 0;
    background: var(--linen);
    padding: var(--step-2) 0;
  }
  @media (max-width: 1000px) {
    .byhand {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
