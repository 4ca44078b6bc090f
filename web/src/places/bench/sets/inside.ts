import type { Schemas } from '../../../api/client';

type Part = Schemas['Part'];

/** The picture in a part, at whatever depth. */
export function pictureIn(parts: Part[], part: Part): Part | undefined {
  if (part.picture && !part.picture.background) return part;
  for (const p of parts) {
    const found = p.parent === part.id ? pictureIn(parts, p) : undefined;
    if (found) return found;
  }
  return undefined;
}

const fields = ['heading', 'words', 'link', 'button', 'picture', 'video', 'embed', 'cell'];

/** What can be changed in an item, in order: with what stands in its other half, such as the words of its tab. */
export function fieldsOf(parts: Part[], item: Part): Part[] {
  const half = item.half ? parts.find((p) => p.id === item.half) : undefined;
  return [...(half ? within(parts, half) : []), ...within(parts, item)];
}

function within(parts: Part[], part: Part): Part[] {
  if (fields.includes(part.kind)) {
    const under = parts.filter((p) => p.parent === part.id);
    const shown = part.text || part.kind === 'picture' || part.kind === 'video' || !under.length ? [part] : [];
    return [...shown, ...under.filter((p) => ['picture', 'link', 'button'].includes(p.kind))];
  }
  return parts.filter((p) => p.parent === part.id).flatMap((p) => within(parts, p));
}

/**
 * What has to be opened for a part to be seen, from the outside in: the tabs and dots of the items that it stands in.
 */
export function openersOf(parts: Part[], id: string): string[] {
  const named = new Map(parts.map((p) => [p.id, p]));
  const all: string[] = [];
  for (let p = named.get(id); p; p = named.get(p.parent)) {
    if (p.half && named.get(p.parent)?.set?.items.includes(p.id)) all.unshift(p.half);
  }
  return all;
}
