<script lang="ts">
  import type { Schemas } from '../../api/client';

  /** What a rule found: how grave it is, what to do, and where it can be mended with one act. */
  let {
    finding: f,
    at = '',
    busy,
    onmend,
    onlearn,
  }: {
    finding: Schemas['Finding'];
    at?: string;
    busy: boolean;
    onmend: () => void;
    onlearn: () => void;
  } = $props();
</script>

<b class="mono is-{f.level}">{f.level}</b>
<span
  >{f.say}
  {#if at}<span class="soft small">{at}</span>{/if}
  {#if f.mend || f.learn}
    <span class="acts">
      {#if f.mend}<button class="btn slim" disabled={busy} title="It becomes: {f.mend}" onclick={onmend}>Mend it</button
        >{/if}
      {#if f.learn}<button class="btn slim quiet" disabled={busy} onclick={onlearn}>“{f.learn}” is right here</button
        >{/if}
    </span>
  {/if}</span
>

<style>
  .acts {
    display: inline-flex;
    flex-wrap: wrap;
    gap: 6px;
    margin-left: 4px;
  }
  b {
    padding-top: 3px;
  }
</style>
