<script lang="ts">
  import { untrack } from 'svelte';
  import type { EditorProps } from './editors';

  /** Where a part that is a link leads to. */
  let { desk, part, wish }: EditorProps = $props();
  let href = $state(untrack(() => part.href)); // from here on the field leads
</script>

{#if part.href}
  <label class="field">
    <span>Leads to</span>
    <input
      class="box"
      bind:value={href}
      oninput={() => desk.type({ do: 'attribute', name: 'href', part: part.id, words: href }, wish)}
      onblur={() => desk.flush()}
    />
  </label>
{/if}
