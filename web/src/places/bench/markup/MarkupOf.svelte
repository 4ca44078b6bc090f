<script lang="ts">
  import { session } from '../../../api/session.svelte';
  import type { EditorProps } from '../editors';
  import { isMarkdown } from '../picture/lay';

  /** Leads to the markup of a part, for those who may write it by hand. */
  let { bench, desk, part }: EditorProps = $props();
  async function open() {
    await desk.flush();
    desk.byHand = part.id;
  }
</script>

{#if session.me?.may_markup && !isMarkdown(bench) && !part.picture?.background}
  <p><button class="btn slim quiet" onclick={open}>Markup</button></p>
{/if}
