<script lang="ts">
  let { initials, colour, size = 34 }: { initials: string; colour: string; size?: number } = $props();
</script>

<span class="tile" style:background={colour} style:width="{size}px" style:height="{size}px" aria-hidden="true"
  >{initials}</span
>

<style>
  .tile {
    border-radius: var(--radius);
    display: grid;
    place-items: center;
    font: 700 var(--size-s) var(--display);
    color: var(--white);
    flex: none;
  }
</style>
