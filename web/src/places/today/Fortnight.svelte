<script lang="ts">
  import type { Schemas } from '../../api/client';

  let { rows, day }: { rows: Schemas['FortnightRow'][]; day: string } = $props();

  const days = $derived(
    Array.from({ length: 14 }, (_, i) => {
      const [y, m, d] = day.split('-').map(Number) as [number, number, number];
      const at = new Date(Date.UTC(y, m - 1, d + i));
      return { key: at.toISOString().slice(0, 10), d: at.getUTCDate(), weekend: [0, 6].includes(at.getUTCDay()) };
    }),
  );
  // What is late stands on today.
  const on = (r: Schemas['FortnightRow'], key: string, i: number) =>
    r.marks.filter((m) => m.day === key || (i === 0 && m.day < key));
</script>

<section class="sheet loom">
  <h2>The fortnight</h2>
  {#if rows.length === 0}
    <p class="soft small">Nothing is due in the next two weeks.</p>
  {:else}
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <td></td>
            {#each days as d, i (d.key)}<th scope="col" class:now={i === 0} class:weekend={d.weekend}>{d.d}</th>{/each}
          </tr>
        </thead>
        <tbody>
          {#each rows as r (r.site_id)}
            <tr>
              <th scope="row">{r.name}</th>
              {#each days as d, i (d.key)}
                <td class:now={i === 0} class:weekend={d.weekend}>
                  {#each on(r, d.key, i) as m (m.number)}
                    <a href="/requests/{m.number}" class={m.what} title="{m.subject}, {m.day < d.key ? 'late' : 'due'}">
                      <span class="unseen">{m.subject}</span>
                    </a>
                  {/each}
                </td>
              {/each}
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
    <p class="soft key"><i class="due"></i> due <i class="published"></i> live, to be signed off</p>
  {/if}
</section>

<style>
  .loom {
    padding: var(--step-3h) var(--step-4);
  }
  h2 {
    font-size: var(--size-l);
    margin-bottom: var(--step-2);
  }
  table {
    width: 100%;
    border-collapse: collapse;
    font-size: var(--size-s);
    table-layout: fixed;
  }
  th[scope='row'],
  thead td {
    width: 116px;
    text-align: left;
    font-weight: 400;
    padding-right: var(--step-1h);
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  th[scope='col'] {
    font-weight: 400;
    color: var(--ink-soft);
    height: 24px;
    text-align: center;
  }
  th.now {
    background: var(--indigo);
    color: var(--white);
    font-weight: 700;
    border-radius: var(--radius) var(--radius) 0 0;
  }
  tbody tr {
    height: 31px;
    border-bottom: 1px solid var(--hem);
  }
  tbody tr:first-child {
    border-top: 1px solid var(--hem);
  }
  tbody td {
    border-left: 1px solid #ece5d6;
    text-align: center;
    padding: 0;
  }
  td.weekend {
    background: #f8f4ea;
  }
  td.now {
    background: var(--indigo-wash);
  }
  td a {
    display: inline-block;
    width: 11px;
    height: 11px;
    margin: 1px;
    background: var(--weld);
    transform: rotate(45deg);
    vertical-align: middle;
  }
  i {
    display: inline-block;
    width: 9px;
    height: 9px;
    background: var(--weld);
    transform: rotate(45deg);
    margin: 0 var(--step) 0 0;
  }
  i.published {
    margin-left: var(--step-3);
  }
  a.published,
  i.published {
    background: var(--moss);
    border-radius: 50%;
  }
  .key {
    font-size: var(--size-s);
    margin-top: var(--step-2);
  }
</style>
