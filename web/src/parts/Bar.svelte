<script lang="ts">
  import { Popover } from '@skeletonlabs/skeleton-svelte';
  import { session, signOut } from '../api/session.svelte';
  import { keys, onKeys, switchKeys } from '../look/keys.svelte';
  import Key from '../look/Key.svelte';
  import OnOff from '../look/OnOff.svelte';
  import { complain } from '../look/toast';
  import { go, route } from '../router';
  import FindField from './find/FindField.svelte';

  const me = $derived(session.me!);
  const pictures = (at: string) => at.endsWith('/pictures'); // of a site, too
  const places = [
    { name: 'Today', to: '/', here: (at: string) => at === '/' || at.startsWith('/requests') },
    { name: 'Sites', to: '/sites', here: (at: string) => at.startsWith('/sites') && !pictures(at) },
    { name: 'Pictures', to: '/pictures', here: pictures },
    { name: 'Record', to: '/record', here: (at: string) => at.startsWith('/record') },
  ];

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
      <a href={place.to} aria-current={place.here(route.pathname) ? 'page' : undefined}>{place.name}</a>
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
    <Popover.Positioner>
      <Popover.Content class="sheet person">
        <p><b>{me.name}</b><br /><span class="soft small">{me.role}</span></p>
        <OnOff label="Single-letter keys" on={keys.on} onswitch={switchKeys} />
        {#if me.mailbox}<a href={me.mailbox} target="_blank" rel="noopener">Letters sent in the demo</a>{/if}
        <button class="btn slim" onclick={leave}>Sign out</button>
      </Popover.Content>
    </Popover.Positioner>
  </Popover>
</header>

<style>
  .bar {
    height: 52px;
    background: var(--indigo-deep);
    color: var(--white);
    display: flex;
    align-items: center;
    gap: var(--step-4);
    padding: 0 var(--step-5);
    white-space: nowrap;
  }
  .mark {
    font: 700 23px/1 var(--display);
    letter-spacing: -0.03em;
    padding-bottom: var(--step-1h);
    color: var(--white);
    text-decoration: none;
    background: repeating-linear-gradient(90deg, var(--gold) 0 7px, transparent 7px 11px) left bottom/100% 2px no-repeat;
  }
  nav {
    display: flex;
    gap: var(--step);
  }
  nav a,
  .new {
    color: var(--bar-ink);
    text-decoration: none;
    padding: var(--step-2) var(--step-3);
    border-radius: var(--radius);
  }
  nav a:hover,
  .new:hover {
    color: var(--white);
  }
  nav a[aria-current] {
    color: var(--white);
    background: var(--bar-here);
  }
  .new {
    border: 1px solid var(--bar-edge);
    padding: var(--step-1h) var(--step-3);
  }
  .notlive,
  .alllive {
    margin-left: auto;
    padding: var(--step-1h) var(--step-3);
    border-radius: var(--radius);
  }
  .notlive {
    background: var(--gold);
    color: var(--gold-ink);
    font-weight: 650;
    text-decoration: none;
  }
  .alllive {
    color: var(--bar-moss);
  }
  .bar :global(.who) {
    width: 32px;
    height: 32px;
    border: 1.5px solid var(--bar-frame);
    border-radius: var(--radius);
    font: 600 var(--size-s) var(--display);
    background: none;
    color: var(--white);
    cursor: pointer;
  }
  .bar :global(:focus-visible) {
    outline-color: var(--gold);
  }
  :global(.person a) {
    text-decoration: underline;
  }
  :global(.person.person) {
    z-index: 40;
    width: 230px;
    color: var(--ink);
    padding: var(--step-3h);
    display: grid;
    gap: var(--step-2h);
    justify-items: start;
    box-shadow: var(--lift);
  }
</style>
