<script lang="ts">
  import { Asked } from '../../../api/asked.svelte';
  import { answer, api, type Schemas } from '../../../api/client';
  import OnOff from '../../../look/OnOff.svelte';

  /** The settings of a set that its markup has, each as what it is: a number with its unit, on or off, one of some words. */
  let {
    bench,
    number,
    part,
    onset,
  }: {
    bench: Schemas['Bench'];
    number: number;
    /** The set. */
    part: Schemas['Part'];
    onset: (s: Schemas['SetSetting'], value: string) => void;
  } = $props();
  // The site's own scripts and style sheets know more words than stand on the page.
  const asked = new Asked(async () => {
    const of = part.id;
    const path = { number, page: bench.page.id };
    const known = await answer(
      api.GET('/requests/{number}/bench/{page}/settings', { params: { path, query: { part: of } } }),
    );
    return { of, known };
  });
  $effect(() => {
    void [part.id, bench.draft];
    asked.again();
  });
  // Until they are told, one of some words is chosen, not written: a field does not become another under one's hand.
  const waits = $derived(asked.got?.of !== part.id && !asked.problem);
  const choicesOf = (s: Schemas['SetSetting']) => {
    const known = asked.got?.known.find((k) => key(k) === key(s))?.choices ?? s.choices;
    return waits && !known.includes(s.value) ? [s.value, ...known] : known;
  };
  const key = (s: Schemas['SetSetting']) => `${s.part} ${s.name} ${s.key}`;
  const set = (s: Schemas['SetSetting'], value: string) => {
    if (value.trim() && value.trim() !== s.value) onset(s, value.trim());
  };
</script>

<fieldset>
  <legend class="small soft">Settings</legend>
  {#each part.set?.settings ?? [] as s (key(s))}
    {#if s.is === 'yes-no'}
      <OnOff
        label={s.say}
        on={s.value === s.choices[0]}
        onswitch={(on) => onset(s, s.choices[on ? 0 : 1] ?? `${on}`)}
      />
    {:else}
      <label>
        <span>{s.say}</span>
        {#if s.is === 'number'}
          <span class="amount"
            ><input
              class="box"
              type="number"
              min="0"
              step={s.unit === 'seconds' ? 'any' : 1}
              value={s.value}
              onchange={(e) => set(s, e.currentTarget.value)}
            />{#if s.unit}<span class="small soft">{s.unit}</span>{/if}</span
          >
        {:else if waits || choicesOf(s).length > 1}
          <select class="box" aria-busy={waits} value={s.value} onchange={(e) => set(s, e.currentTarget.value)}>
            {#each choicesOf(s) as c (c)}<option value={c}>{c}</option>{/each}
          </select>
        {:else}
          <input class="box" value={s.value} onchange={(e) => set(s, e.currentTarget.value)} />
        {/if}
      </label>
    {/if}
  {/each}
</fieldset>

<style>
  fieldset {
    display: grid;
    gap: var(--step-1h);
    padding: var(--step-1h) var(--step-2);
    border: 1px solid var(--hem);
  }
  label {
    display: flex;
    justify-content: space-between;
    gap: var(--step-2);
    align-items: center;
  }
  .amount {
    display: flex;
    gap: var(--step);
    align-items: center;
  }
  input[type='number'] {
    width: 84px;
  }
  .box {
    width: auto;
    max-width: 60%;
  }
</style>
