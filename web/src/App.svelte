<script lang="ts">
  import { Toast } from '@skeletonlabs/skeleton-svelte';
  import { Router } from 'sv-router';
  import { refresh, session } from './api/session.svelte';
  import { toaster } from './look/toast';
  import Bar from './parts/Bar.svelte';
  import SignIn from './places/signin/SignIn.svelte';
  import './router';

  refresh();

  // Links that are meant for the browser stay with it: with a key held, into a new tab, or out of the application.
  function outside(e: MouseEvent) {
    const a = (e.target as HTMLElement).closest?.('a');
    if (
      a &&
      (e.ctrlKey ||
        e.metaKey ||
        e.shiftKey ||
        a.target === '_blank' ||
        a.origin !== location.origin ||
        a.pathname.startsWith('/api/'))
    )
      e.stopImmediatePropagation();
  }
  $effect(() => {
    addEventListener('click', outside, true);
    return () => removeEventListener('click', outside, true);
  });
</script>

{#if session.me === undefined}
  <main class="page soft">
    <h1 class="unseen">Mendry</h1>
    <p role="status">One moment…</p>
  </main>
{:else if session.me === null}
  <SignIn />
{:else}
  <a class="skip" href="#main">To the contents</a>
  <Bar />
  {#key session.me.id}<main id="main" tabindex="-1"><Router /></main>{/key}
{/if}

<Toast.Group {toaster}>
  {#snippet children(toast)}
    <Toast {toast}>
      <Toast.Message><Toast.Title>{toast.title}</Toast.Title></Toast.Message>
      <Toast.CloseTrigger aria-label="Put away" />
    </Toast>
  {/snippet}
</Toast.Group>

<style>
  main:focus {
    outline: none;
  }
  .skip {
    position: absolute;
    left: 8px;
    top: -60px;
    z-index: 50;
    background: var(--paper);
    padding: var(--step-2) var(--step-3h);
  }
  .skip:focus {
    top: 8px;
  }
</style>
