<script lang="ts">
  import { answer, api } from '../../api/client';
  import { complain } from '../../look/toast';

  /** Words that are right on this site though no dictionary has them. */
  let { site, words, onchange }: { site: number; words: string[]; onchange: () => void } = $props();
  let word = $state('');

  async function act(ask: () => Promise<unknown>) {
    try {
      await ask();
      word = '';
      onchange();
    } catch (e) {
      complain(e);
    }
  }
  const at = (w: string) => ({ params: { path: { site, word: w } } });
</script>

<section class="sheet own" aria-label="Words of this site">
  <h2>Words of this site</h2>
  <p class="small soft">Right here though no dictionary has them. Names that stand on other pages need not be added.</p>
  <ul>
    {#each words as w (w)}
      <li>
        {w}
        <button
          aria-label="Forget {w}"
          onclick={() => act(() => answer(api.DELETE('/sites/{site}/words/{word}', at(w))))}>×</button
        >
      </li>
    {/each}
  </ul>
  <form
    onsubmit={(e) => {
      e.preventDefault();
      act(() => answer(api.PUT('/sites/{site}/words/{word}', at(word.trim()))));
    }}
  >
    <input class="box" aria-label="A word that is right here" bind:value={word} maxlength="60" required />
    <button class="btn slim">Add</button>
  </form>
</section>

<style>
  .own {
    padding: var(--step-3) var(--step-3h);
    display: grid;
    gap: var(--step-2);
  }
  h2 {
    font-size: var(--size-l);
  }
  ul {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-1h);
  }
  li {
    border: 1px solid var(--hem);
    border-radius: var(--radius);
    padding: 1px var(--step) 1px var(--step-2h);
  }
  li button {
    padding: 0 var(--step-1h);
    cursor: pointer;
  }
  form {
    display: flex;
    gap: var(--step-2);
    max-width: 320px;
  }
</style>
