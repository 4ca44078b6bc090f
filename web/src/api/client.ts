import createClient, { type Middleware } from 'openapi-fetch';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];

let token = '';

/** Sets the token that calls which change something carry. */
export function setToken(t: string) {
  token = t;
}

const carry: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET' && token) request.headers.set('X-Mendry-Token', token);
    return request;
  },
};

export const api = createClient<paths>({ baseUrl: '/api' });
api.use(carry);

/** A refusal in words for the person who works; status 0 where Mendry cannot be reached. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    say: string,
  ) {
    super(say);
  }
}

/** Unwraps a call's answer, or throws a Refusal. */
export async function answer<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let got;
  try {
    got = await call;
  } catch {
    throw new Refusal(0, 'Mendry cannot be reached. What you typed is safe in this browser; it is tried again.');
  }
  if (got.error !== undefined || !got.response.ok) {
    const say = (got.error as { say?: string } | undefined)?.say;
    throw new Refusal(got.response.status, say ?? 'Something went wrong. Try again in a moment.');
  }
  return got.data as T;
}

/** Where a file that a change brings is fetched, or what stood in its place. */
export const fileOf = (number: number, change: number) => (n: number, before: boolean) =>
  `/api/requests/${number}/changes/${change}/files/${n}?before=${before}`;

/** Adds a picture or a file to download to a request, as the bytes that it is. */
export function addFile(number: number, f: File) {
  return answer(
    api.POST('/requests/{number}/attachments', {
      params: { path: { number }, query: { name: f.name } },
      body: f as unknown as string,
      bodySerializer: (b) => b as unknown as BodyInit,
      headers: { 'Content-Type': 'application/octet-stream' },
    }),
  );
}

/** Words for an error of any kind. */
export function words(e: unknown): string {
  return e instanceof Refusal ? e.message : 'Something went wrong in this page. Load it again.';
}
