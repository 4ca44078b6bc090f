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
    padding: 12px 14px;
    display: grid;
    gap: 8px;
  }
  h2 {
    font-size: 16px;
  }
  ul {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  li {
    border: 1px solid var(--hem);
    border-radius: var(--radius);
    padding: 1px 4px 1px 10px;
  }
  li button {
    padding: 0 6px;
    cursor: pointer;
  }
  form {
    display: flex;
    gap: 8px;
    max-width: 320px;
  }
</style>
