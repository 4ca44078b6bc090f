<script lang="ts">
  /** A page as it is live, small, to be known by; a blank sheet where there is no picture of it. */
  let { page }: { page: { id: number; small?: string } } = $props();
</script>

{#if page.small}<img src="/api/pages/{page.id}/small?of={page.small}" alt="" loading="lazy" width="64" height="40" />
{:else}<span></span>{/if}

<style>
  img,
  span {
    display: block;
    flex: none;
    width: 64px;
    height: 40px;
    border: 1px solid var(--hem);
    background: var(--paper);
    object-fit: cover;
    object-position: top;
  }
  span {
    background: var(--linen);
  }
</style>
