import type { Schemas } from '../../../api/client';

/** What may be said of a picture or file, and all of them; files are those to download or to play. */
export const findings = ['all', 'files', 'unused', 'too heavy', 'too small', 'without text', 'twice'] as const;
export type Only = (typeof findings)[number];

/** Whether a picture or file is one of those that are asked for. */
export const among = (p: Schemas['SitePicture'], only: Only) =>
  only === 'all' || (only === 'files' ? !!p.kind : p.findings.includes(only));

/** Whether a picture lies in a folder or below it. */
export const under = (p: Schemas['SitePicture'], folder: string) =>
  !folder || p.folder === folder || p.folder.startsWith(`${folder}/`);

/** Whether a picture is meant by what is sought: its name, its pages, its alternative texts. */
export function counted(p: Schemas['SitePicture'], sought: string) {
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const said = [p.path, ...p.uses.flatMap((u) => [u.address, u.alt, u.part])].join(' ').toLowerCase();
  return words.every((w) => said.includes(w));
}

/** Where a picture of a site made small is. */
export const smallOf = (site: number, path: string, size: 160 | 320 | 1600) =>
  `/api/sites/${site}/pictures/small?path=${encodeURIComponent(path)}&size=${size}`;
