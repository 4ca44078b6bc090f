import { createRouter } from 'sv-router';
import Today from './places/today/Today.svelte';

export const { navigate, route, p } = createRouter({
  '/': Today,
  '/sites': () => import('./places/sites/Sites.svelte'),
  '/sites/add': () => import('./places/sites/AddSite.svelte'),
  '/sites/:site': () => import('./places/sites/Site.svelte'),
  '/sites/:site/pictures': () => import('./places/sites/pictures/SitePictures.svelte'),
  '/pictures': () => import('./places/sites/pictures/AllPictures.svelte'),
  '/requests/new': () => import('./places/request/NewRequest.svelte'),
  '/requests/:number': () => import('./places/request/Read.svelte'),
  '/requests/:number/bench': () => import('./places/bench/BenchStart.svelte'),
  '/requests/:number/bench/:page': () => import('./places/bench/Bench.svelte'),
  '/requests/:number/proof': () => import('./places/proof/Proof.svelte'),
  '/requests/:number/release': () => import('./places/release/Releases.svelte'),
  '/record': () => import('./places/record/Record.svelte'),
  '*rest': () => import('./places/Nowhere.svelte'),
});

/** Goes to an address of the application, with or without a query. */
export function go(to: string) {
  const [path, search] = to.split('?');
  return navigate(path as '/', search ? { search } : {});
}
