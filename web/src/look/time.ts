const day = new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short' });
const long = new Intl.DateTimeFormat('en-GB', { weekday: 'long', day: 'numeric', month: 'long' });
const moment = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

export const dayWords = (d: string) => day.format(new Date(d));
export const longDay = (d: string) => long.format(new Date(d));
export const momentWords = (d: string) => moment.format(new Date(d));

/** How far a due day is: "today", "Thu 26 Nov", "2 days late". */
export function due(d: string | undefined, today = new Date()): { words: string; late: boolean } {
  if (!d) return { words: 'no date', late: false };
  const at = (x: Date) => Date.UTC(x.getFullYear(), x.getMonth(), x.getDate());
  const [y, m, dd] = d.split('-').map(Number) as [number, number, number];
  const days = Math.round((Date.UTC(y, m - 1, dd) - at(today)) / 86_400_000);
  if (days === 0) return { words: 'today', late: false };
  if (days === 1) return { words: 'tomorrow', late: false };
  if (days === -1) return { words: 'since yesterday', late: true };
  if (days < 0) return { words: `${-days} days late`, late: true };
  return { words: day.format(new Date(y, m - 1, dd)), late: false };
}

/** Writes a weight for people: "148 kB". */
export function weight(bytes: number): string {
  if (bytes < 1000) return `${bytes} bytes`;
  if (bytes < 1_000_000) return `${Math.round(bytes / 1000)} kB`;
  return `${(bytes / 1_000_000).toFixed(1)} MB`;
}
