import { answer, api, type Schemas } from '../../api/client';
import type { BenchPage } from './desk.svelte';

type Part = Schemas['Part'];

/** The shared part that a part is, or stands in: the outermost. */
export function sharedRoot(parts: Part[], part: Part): Part | undefined {
  let root: Part | undefined;
  for (let p: Part | undefined = part; p; p = parts.find((q) => q.id === p!.parent)) if (p.shared) root = p;
  return root;
}

/** Says on which pages a shared part is changed, once what was typed is kept. */
export async function choosePages(desk: BenchPage, number: number, page: number, part: string, everywhere: boolean) {
  await desk.flush();
  const path = { number, page };
  desk.told(
    await answer(api.PUT('/requests/{number}/bench/{page}/shared', { params: { path }, body: { part, everywhere } })),
  );
}
