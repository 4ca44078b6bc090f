<script lang="ts">
  import type { Schemas } from '../../../api/client';

  /** What would become of the markup that is written: why it would be refused, what is read otherwise, what would differ. */
  let {
    tried,
    changed,
    problem,
    ongo,
  }: {
    tried?: Schemas['TriedMarkup'];
    changed: boolean;
    problem: string;
    ongo: (line: number) => void;
  } = $props();
</script>

<div role="status" aria-label="What would become of it">
  {#if problem}<p class="said small">{problem}</p>{/if}
  {#if tried?.refused}<p class="said stop small"><b>It would not be kept.</b> {tried.refused}</p>{/if}
  {#if tried?.readings.length}
    {#if !tried.refused}<p class="small"><b>A browser reads this otherwise than it is written:</b></p>{/if}
    <ul>
      {#each tried.readings as r, i (i)}
        <li>
          <button class="small" onclick={() => ongo(r.line)}><b class="mono">line {r.line}</b> {r.say}</button>
        </li>
      {/each}
    </ul>
  {:else if tried && !tried.refused}
    <p class="small is-fine">It is read as it is written.</p>
  {/if}
  {#if tried && !tried.refused}
    {#if tried.differs.length}
      <p class="small soft">What would differ: {tried.differs.slice(0, 6).join('; ')}</p>
    {:else if changed}<p class="small soft">Visitors would see no difference.</p>{/if}
  {/if}
</div>

<style>
  div {
    display: grid;
    gap: var(--step-1h);
    padding: var(--step-2) var(--step-3h);
    max-height: 168px;
    overflow: auto;
  }
  li button {
    width: 100%;
    text-align: left;
    cursor: pointer;
    padding: var(--step-half) 0;
  }
  li button:hover {
    background: var(--indigo-wash);
  }
</style>
