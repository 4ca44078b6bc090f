<script lang="ts">
  import { answer, api, words } from '../../api/client';
  import { navigate, route } from '../../router';

  /** The bench of a request before a page is chosen: it goes to the one that is likeliest meant. */
  let problem = $state('');
  const number = $derived(Number(route.params.number));

  $effect(() => void start(number));
  async function start(number: number) {
    try {
      const r = await answer(api.GET('/requests/{number}', { params: { path: { number } } }));
      const wish = r.wishes.find((w) => w.page_id && w.state === 'open') ?? r.wishes.find((w) => w.page_id);
      let page = wish?.page_id ?? r.thread.at(-1)?.page_id;
      if (!page) {
        const site = await answer(api.GET('/sites/{site}', { params: { path: { site: r.row.site_id } } }));
        const pages = site.pages.filter((p) => !p.locked);
        page = (pages.find((p) => p.address === '/') ?? pages[0])?.id;
      }
      if (!page) problem = 'No page of this site can be changed yet. Take the site in first.';
      else
        navigate(`/requests/${number}/bench/${page}` as '/', {
          replace: true,
          ...(wish ? { search: `wish=${wish.id}${wish.part ? `&part=${wish.part}` : ''}` } : {}),
        });
    } catch (e) {
      problem = words(e);
    }
  }
</script>

<svelte:head><title>Bench · Mendry</title></svelte:head>
<div class="page">
  {#if problem}<p class="said" role="alert">{problem}</p>{:else}<p class="soft" role="status">One moment…</p>{/if}
</div>
