<script lang="ts">
  import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';

  /** Asks before something that touches a live site or a client. */
  let {
    open = $bindable(),
    title,
    act,
    onact,
    children,
  }: { open: boolean; title: string; act: string; onact: () => void; children: import('svelte').Snippet } = $props();
</script>

<Dialog {open} onOpenChange={(d) => (open = d.open)}>
  <Portal>
    <Dialog.Backdrop class="fixed inset-0 z-50 bg-[#1a2136]/50" />
    <Dialog.Positioner class="fixed inset-0 z-50 flex items-center justify-center p-4">
      <Dialog.Content class="sheet w-[480px] max-w-full space-y-3 p-5">
        <Dialog.Title class="text-xl font-bold">{title}</Dialog.Title>
        <Dialog.Description>{@render children()}</Dialog.Description>
        <div class="flex justify-end gap-2 pt-2">
          <Dialog.CloseTrigger class="btn">Not now</Dialog.CloseTrigger>
          <button
            class="btn go"
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
