<script lang="ts">
  import type { Editor } from '@tiptap/core';
  import { onDestroy, untrack } from 'svelte';
  import { answer, api, words, type Schemas } from '../../api/client';

  /** Sets, changes or takes off the link on the chosen words. */
  let { editor, site, page, onclose }: { editor: Editor; site: number; page: number; onclose: () => void } = $props();

  const now = untrack(() => editor.getAttributes('link')) as { href?: string; title?: string; target?: string };
  let href = $state(now.href ?? '');
  let title = $state(now.title ?? '');
  let newTab = $state(now.target === '_blank');
  let pages = $state<Schemas['PageRow'][]>([]);
  let tried = $state<Schemas['LinkTried'] | undefined>();
  let problem = $state('');
  const outside = $derived(/^https?:\/\//i.test(href));

  $effect(() => {
    answer(api.GET('/sites/{site}', { params: { path: { site } } })).then(
      (s) => (pages = s.pages),
      (e) => (problem = words(e)),
    );
  });
  const found = $derived(
    href && !outside && !/^(mailto:|tel:|#)/.test(href) && !pages.some((p) => p.address === href)
      ? pages.filter((p) => `${p.address} ${p.title}`.toLowerCase().includes(href.toLowerCase())).slice(0, 6)
      : [],
  );
  // The headings of the page that the link leads to; of this page while only a place is named.
  let places = $state<Schemas['PagePlace'][]>([]);
  const target = $derived(
    href.startsWith('#') ? page : pages.find((p) => p.address === (href.split('#')[0] ?? ''))?.id,
  );
  $effect(() => {
    places = [];
    if (!target) return;
    answer(api.GET('/pages/{page}/places', { params: { path: { page: target } } })).then(
      (all) => (places = all),
      (e) => (problem = words(e)),
    );
  });
  let asked = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  onDestroy(() => clearTimeout(timer));
  function type() {
    tried = undefined;
    newTab = outside;
    if (!outside) return;
    const mine = ++asked;
    clearTimeout(timer);
    timer = setTimeout(async () => {
      if (mine !== asked) return;
      try {
        const got = await answer(api.POST('/links/try', { body: { address: href } }));
        if (mine === asked) tried = got;
      } catch (e) {
        problem = words(e);
      }
    }, 600);
  }
  function set() {
    let to = href.trim();
    if (/^[^\s@]+@[^\s@]+\.\w+$/.test(to)) to = `mailto:${to}`;
    else if (/^\+?[\d ()-]{7,}$/.test(to)) to = `tel:${to.replace(/[^\d+]/g, '')}`;
    const c = editor.chain().focus().extendMarkRange('link');
    if (to)
      c.setLink({ href: to, title: title.trim() || null, target: newTab && outside ? '_blank' : null } as {
        href: string;
      }).run();
    else c.unsetLink().run();
    onclose();
  }
  const focus = (el: HTMLElement) => el.focus({ preventScroll: true });
</script>

<form
  class="link"
  aria-label="Link"
  onsubmit={(e) => {
    e.preventDefault();
    set();
  }}
>
  <label class="field">
    <span>To a page, an address, a mail or a phone number</span>
    <input
      class="box"
      bind:value={href}
      oninput={type}
      use:focus
      placeholder="a title, /fares.html, #place, https://…"
    />
  </label>
  {#if found.length}
    <ul>
      {#each found as p (p.id)}
        <li>
          <button type="button" onclick={() => (href = p.address)}
            ><span class="mono">{p.address}</span> <span class="soft small">{p.title}</span></button
          >
        </li>
      {/each}
    </ul>
  {/if}
  {#if places.length}
    <label class="field">
      <span>To a heading there</span>
      <select
        class="box"
        value={href.split('#')[1] ?? ''}
        onchange={(e) => (href = (href.split('#')[0] ?? '') + (e.currentTarget.value && `#${e.currentTarget.value}`))}
      >
        <option value="">the top of the page</option>
        {#each places as p (p.place)}<option value={p.place}>{'– '.repeat(p.level - 1)}{p.words}</option>{/each}
      </select>
    </label>
  {/if}
  {#if tried}<p class={['said', 'small', tried.ok ? 'fine' : 'look']} role="status">{tried.say}</p>{/if}
  {#if problem}<p class="said small" role="alert">{problem}</p>{/if}
  <label class="field"><span>Title, shown when the pointer rests</span><input class="box" bind:value={title} /></label>
  {#if outside}<label class="small"><input type="checkbox" bind:checked={newTab} /> opens in a new tab</label>{/if}
  <p class="acts">
    <button class="btn slim" type="submit">{href.trim() ? 'Set the link' : 'Take the link off'}</button>
    <button class="btn slim quiet" type="button" onclick={onclose}>Leave it</button>
  </p>
</form>

<style>
  .link {
    display: grid;
    gap: var(--step-1h);
    padding: var(--step-2);
    border: 1px dashed var(--hem-strong);
    border-radius: var(--radius);
  }
  ul {
    border: 1px solid var(--hem);
    max-height: 132px;
    overflow: auto;
  }
  li button {
    width: 100%;
    text-align: left;
    padding: var(--step) var(--step-2);
    cursor: pointer;
  }
  li button:hover,
  li button:focus-visible {
    background: var(--indigo-wash);
    outline-offset: -2px;
  }
  .acts {
    display: flex;
    gap: var(--step-1h);
  }
</style>
