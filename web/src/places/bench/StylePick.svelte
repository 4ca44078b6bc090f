<script lang="ts">
  import { Asked } from '../../api/asked.svelte';
  import { answer, api } from '../../api/client';
  import Fold from '../../look/Fold.svelte';
  import Loaded from '../../parts/Loaded.svelte';

  /** Styles that the site's own style sheets have for words, for those that are chosen in the editor. */
  let {
    number,
    page,
    part,
    onchosen,
  }: {
    number: number;
    page: number;
    part: string;
    /** Puts a style on the chosen words. */
    onchosen: (name: string) => void;
  } = $props();
  const least = 4.5; // WCAG 2.2, 1.4.3
  const styles = new Asked(() => {
    const params = { path: { number, page }, query: { part } };
    return answer(api.GET('/requests/{number}/bench/{page}/styles', { params }));
  });
</script>

<Fold title="Styles of this site" onopen={() => styles.again()}>
  <Loaded of={styles} small say="Reading the style sheets…">
    {#snippet children(all)}
      <p class="small soft">For the chosen words:</p>
      <ul>
        {#each all as s (s.class)}
          <li>
            <button onmousedown={(e) => e.preventDefault()} onclick={() => onchosen(s.class)}>
              <span>{s.say}</span>
              <span class="mono small">{s.class}</span>
              <span class="small soft">
                {#if s.contrast && s.contrast < least}<span class="is-look"
                    >hard to read, {s.contrast.toFixed(1)}:1</span
                  >
                {:else if s.like}on {s.like} like it{/if}
              </span>
            </button>
          </li>
        {:else}
          <li class="small soft">The site’s style sheets have no style for these words.</li>
        {/each}
      </ul>
    {/snippet}
  </Loaded>
</Fold>

<style>
  ul {
    margin-top: var(--step-1h);
    display: grid;
    gap: var(--step);
    max-height: 170px;
    overflow: auto;
  }
  li button {
    width: 100%;
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-half) var(--step-2h);
    align-items: baseline;
    text-align: left;
    padding: var(--step) var(--step-2);
    border: 1px solid var(--hem);
    border-radius: var(--radius);
    cursor: pointer;
  }
  li button > :last-child {
    margin-left: auto;
  }
  li button:hover {
    background: var(--indigo-wash);
  }
</style>
