<script lang="ts">
  import { Popover, Portal } from '@skeletonlabs/skeleton-svelte';
  import { session, signOut } from '../api/session.svelte';
  import { contents } from '../look/contents';
  import { keys, onKeys, switchKeys } from '../look/keys.svelte';
  import Key from '../look/Key.svelte';
  import OnOff from '../look/OnOff.svelte';
  import { complain } from '../look/toast';
  import { go, route } from '../router';
  import FindField from './find/FindField.svelte';

  const me = $derived(session.me!);
  const places = [
    { name: 'Today', to: '/' },
    { name: 'Sites', to: '/sites' },
    { name: 'Record', to: '/record' },
  ];
  const current = (to: string) =>
    to === '/' ? route.pathname === '/' || route.pathname.startsWith('/requests') : route.pathname.startsWith(to);

  onKeys(() => ({ n: (down) => down && go('/requests/new') }));

  async function leave() {
    try {
      await signOut();
    } catch (e) {
      complain(e);
    }
  }
</script>

<header class="bar">
  <a class="mark" href="/">mendry</a>
  <nav aria-label="Places">
    {#each places as place (place.to)}
      <a href={place.to} aria-current={current(place.to) ? 'page' : undefined}>{place.name}</a>
    {/each}
  </nav>
  <FindField />
  <a class="new" href="/requests/new" title="In a field: Ctrl Alt N">New request <Key k="N" /></a>
  {#if me.kept > 0}
    <a class="notlive" href="/">{me.kept} {me.kept === 1 ? 'change' : 'changes'} kept, not live</a>
  {:else}
    <span class="alllive">nothing kept, all is live</span>
  {/if}
  <Popover positioning={{ placement: 'bottom-end' }}>
    <Popover.Trigger class="who" aria-label="{me.name}: settings">{me.initials}</Popover.Trigger>
    <Portal target={contents()}>
      <Popover.Positioner>
        <Popover.Content class="sheet person">
          <p><b>{me.name}</b><br /><span class="soft small">{me.role}</span></p>
          <OnOff label="Single-letter keys" on={keys.on} onswitch={switchKeys} />
          {#if me.mailbox}<a href={me.mailbox} target="_blank" rel="noopener">Letters sent in the demo</a>{/if}
          <button class="btn slim" onclick={leave}>Sign out</button>
        </Popover.Content>
      </Popover.Positioner>
    </Portal>
  </Popover>
</header>

<style>
  .bar {
    height: 52px;
    background: var(--indigo-deep);
    color: #fff;
    display: flex;
    align-items: center;
    gap: 16px;
    padding: 0 20px;
    white-space: nowrap;
  }
  .mark {
    font: 700 23px/1 var(--display);
    letter-spacing: -0.03em;
    padding-bottom: 5px;
    color: #fff;
    text-decoration: none;
    background: repeating-linear-gradient(90deg, #f1c95b 0 7px, transparent 7px 11px) left bottom/100% 2px no-repeat;
  }
  nav {
    display: flex;
    gap: 4px;
  }
  nav a,
  .new {
    color: #cfd6ea;
    text-decoration: none;
    padding: 7px 12px;
    border-radius: var(--radius);
  }
  nav a:hover,
  .new:hover {
    color: #fff;
  }
  nav a[aria-current] {
    color: #fff;
    background: #2b3766;
  }
  .new {
    border: 1px solid #45517f;
    padding: 6px 12px;
  }
  .notlive,
  .alllive {
    margin-left: auto;
    padding: 5px 11px;
    border-radius: var(--radius);
  }
  .notlive {
    background: #f1c95b;
    color: #33270a;
    font-weight: 650;
    text-decoration: none;
  }
  .alllive {
    color: #a9c79f;
  }
  .bar :global(.who) {
    width: 32px;
    height: 32px;
    border: 1.5px solid #8f9ac3;
    border-radius: var(--radius);
    font: 600 13px var(--display);
    background: none;
    color: #fff;
    cursor: pointer;
  }
  .bar :global(:focus-visible) {
    outline-color: #f1c95b;
  }
  :global(.person a) {
    text-decoration: underline;
  }
  :global(.person.person) {
    z-index: 40;
    width: 230px;
    color: var(--ink);
    padding: 14px;
    display: grid;
    gap: 10px;
    justify-items: start;
    box-shadow: 0 6px 18px #1a213633;
  }
</style>
