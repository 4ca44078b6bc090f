<script lang="ts">
  import type { Schemas } from '../../api/client';

  /** What the client wrote of what is shown here. */
  let { notes }: { notes: Schemas['ClientNote'][] } = $props();
</script>

{#each notes as n (n.change_id)}
  <p class="said look small"><b>The client, round {n.round}: not yet.</b> {n.note}</p>
{/each}
