<script lang="ts">
  import type { Schemas } from '../../api/client';
  import type { Mending } from './mending.svelte';

  /** What a rule found: how grave it is, what to do, and where it can be mended with one act. */
  let {
    finding: f,
    at = '',
    way = '',
    mending,
  }: {
    finding: Schemas['Finding'];
    at?: string;
    /** Where it is settled. */
    way?: string;
    mending: Mending;
  } = $props();
</script>

<b class="mono is-{f.level}">{f.level}</b>
<span
  >{f.say}
  {#if at}<span class="soft small">{at}</span>{/if}
  {#if way || f.mend || f.learn}
    <span class="acts">
      {#if way}<a class="btn slim" href={way}
          >{f.wish_id ? 'Go to the wish' : f.part ? 'Go to the part' : 'Go to the page'}</a
        >{/if}
      {#if f.mend}<button
          class="btn slim"
          disabled={mending.busy}
          title="It becomes: {f.mend}"
          onclick={() => mending.mend(f)}>Mend it</button
        >{/if}
      {#if f.learn}<button class="btn slim quiet" disabled={mending.busy} onclick={() => mending.learn(f.learn)}
          >“{f.learn}” is right here</button
        >{/if}
    </span>
  {/if}</span
>

<style>
  .acts {
    display: inline-flex;
    flex-wrap: wrap;
    gap: var(--step-1h);
  }
  b {
    padding-top: var(--step);
  }
</style>
