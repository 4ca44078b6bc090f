<script lang="ts">
  /** How far a thing has come, drawn as sewing and always named in words. */
  let {
    state,
    children,
  }: { state: 'kept' | 'client' | 'live' | 'sure' | 'signed' | 'stop' | 'soft'; children: import('svelte').Snippet } =
    $props();
</script>

<span class="seam {state}"><i aria-hidden="true"></i><span>{@render children()}</span></span>

<style>
  .seam {
    display: inline-flex;
    align-items: center;
    gap: var(--step-2);
    font-size: var(--size-s);
    white-space: nowrap;
  }
  i {
    width: 34px;
    height: 8px;
    position: relative;
    flex: none;
  }
  i::before {
    content: '';
    position: absolute;
    left: 0;
    right: 0;
    top: 3px;
    border-top: 2px solid currentColor;
  }
  .kept i::before {
    border-top-style: dashed;
  }
  .client i::before {
    border-top-style: dotted;
  }
  .sure i::before {
    height: 3px;
    border-bottom: 2px solid currentColor;
  }
  .signed i::after {
    content: '';
    position: absolute;
    right: -2px;
    top: -1px;
    width: 10px;
    height: 10px;
    border: 2px solid currentColor;
    border-radius: 50% 50% 50% 0;
    background: var(--paper);
  }
  .kept {
    color: var(--weld);
  }
  .client {
    color: var(--walnut);
  }
  .live,
  .sure,
  .signed {
    color: var(--moss);
  }
  .stop {
    color: var(--madder);
  }
  .soft {
    color: var(--ink-soft);
  }
  .soft i {
    display: none;
  }
</style>
