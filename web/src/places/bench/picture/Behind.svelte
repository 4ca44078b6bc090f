<script lang="ts">
  import type { EditorProps } from '../editors';

  /** The pictures that stand behind a part, or under what was pointed at: they cannot be pointed at themselves. */
  let { bench, desk, part, onchoose }: EditorProps = $props();
  const behind = $derived(
    bench.parts.filter((p) => p.picture && (p.id === desk.under || (p.parent === part.id && p.picture.background))),
  );
</script>

{#each behind as p (p.id)}
  <p><button class="btn slim" onclick={() => onchoose(p.id)}>The picture behind it</button></p>
{/each}
