<script lang="ts">
  import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';

  /** Asks before something that touches a live site or a client. */
  let {
    open = $bindable(),
    title,
    act,
    ready = true,
    onact,
    children,
  }: {
    open: boolean;
    title: string;
    act: string;
    /** What is asked for is there. */
    ready?: boolean;
    onact: () => void;
    children: import('svelte').Snippet;
  } = $props();
</script>

<Dialog {open} onOpenChange={(d) => (open = d.open)}>
  <Portal>
    <Dialog.Backdrop class="ask-behind" />
    <Dialog.Positioner class="ask-at">
      <Dialog.Content class="sheet ask">
        <Dialog.Title class="ask-title">{title}</Dialog.Title>
        <Dialog.Description class="ask-says">{@render children()}</Dialog.Description>
        <div class="acts">
          <Dialog.CloseTrigger class="btn">Not now</Dialog.CloseTrigger>
          <button
            class="btn go"
            disabled={!ready}
            onclick={() => {
              open = false;
              onact();
            }}>{act}</button
          >
        </div>
      </Dialog.Content>
    </Dialog.Positioner>
  </Portal>
</Dialog>

<style>
  :global(.ask-behind),
  :global(.ask-at) {
    position: fixed;
    inset: 0;
    z-index: 60;
  }
  :global(.ask-behind) {
    background: color-mix(in srgb, var(--ink) 55%, transparent);
  }
  :global(.ask-at) {
    display: grid;
    place-items: center;
    padding: var(--step-4);
  }
  :global(.ask) {
    display: grid;
    gap: var(--step-3);
    width: 480px;
    max-width: 100%;
    padding: var(--step-5);
    box-shadow: var(--lift);
  }
  :global(.ask-title) {
    font-size: var(--size-h);
    font-weight: 700;
  }
  :global(.ask-says) {
    display: grid;
    gap: var(--step-2);
    overflow-wrap: anywhere;
  }
  .acts {
    display: flex;
    justify-content: end;
    gap: var(--step-2);
    padding-top: var(--step-1h);
  }
</style>
