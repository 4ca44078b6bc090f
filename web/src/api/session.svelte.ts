import { answer, api, Refusal, setToken, type Schemas } from './client';

/** Who is signed in; undefined until known, null where nobody is. */
export const session = $state<{ me: Schemas['Me'] | null | undefined }>({ me: undefined });

function take(me: Schemas['Me']) {
  session.me = me;
  setToken(me.csrf);
}

/** The zone in which a site's times are shown. */
export const zoneOf = (site: number) => session.me?.clocks.find((c) => c.site_id === site)?.zone;

/** Finds out who is signed in, and how much is kept and not live. */
export async function refresh() {
  try {
    take(await answer(api.GET('/session')));
  } catch (e) {
    if (e instanceof Refusal && e.status === 401) session.me = null;
    else if (session.me === undefined) session.me = null;
  }
}

export async function signIn(sign_in: string, password: string) {
  take(await answer(api.POST('/session', { body: { sign_in, password } })));
}

export async function signOut() {
  await answer(api.DELETE('/session'));
  session.me = null;
}
