<script lang="ts">
  import type { Schemas } from '../../api/client';
  import Segments from '../../look/Segments.svelte';
  import Shot from '../../parts/Shot.svelte';

  /** A page as it is now and as it will be, as pictures: on a phone or on a screen. */
  let { token, shots }: { token: string; shots: Schemas['PageShot'][] } = $props();

  let open = $state(false);
  let on = $state<'phone' | 'screen'>('phone');
  let when = $state<'before' | 'after'>('after');
  const shot = $derived(on === 'phone' ? shots[0]! : shots[shots.length - 1]!);
</script>

<details bind:open>
  <summary>as pictures, with what changes marked</summary>
  {#if open}
    <p>
      <Segments
        label="When"
        choices={[
          { value: 'before', label: 'now' },
          { value: 'after', label: 'after' },
        ]}
        bind:value={when}
      />
      <Segments
        label="Seen on"
        choices={[
          { value: 'phone', label: 'on a phone' },
          { value: 'screen', label: 'on a screen' },
        ]}
        bind:value={on}
      />
    </p>
    <div class="frame">
      <Shot
        src="/api/proof/{token}/shots/{shot[when]}"
        alt={when === 'before' ? 'The page as it is now' : 'The page as it will be'}
        {shot}
        side={when}
      />
    </div>
  {/if}
</details>

<style>
  summary {
    cursor: pointer;
    padding: var(--step) 0;
    text-decoration: underline;
  }
  p {
    display: flex;
    flex-wrap: wrap;
    gap: var(--step-2);
    padding: var(--step) 0 var(--step-2);
  }
  .frame {
    border: 1px solid var(--hem-strong);
  }
</style>
