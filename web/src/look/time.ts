// Making a format takes long, so each is made once.
const formats = new Map<string, Intl.DateTimeFormat>();
function format(name: string, options: Intl.DateTimeFormatOptions, zone: string | undefined): Intl.DateTimeFormat {
  const key = `${name} ${zone}`;
  let f = formats.get(key);
  if (!f) formats.set(key, (f = new Intl.DateTimeFormat('en-GB', { ...options, timeZone: zone })));
  return f;
}
/** A day alone is the same day everywhere. */
const isDay = (d: string) => d.length === 'yyyy-mm-dd'.length;
/** The reader's zone. */
export const here = () => Intl.DateTimeFormat().resolvedOptions().timeZone;

/** Writes a day or a moment, with its year where that is not the present one. */
function written(name: string, options: Intl.DateTimeFormatOptions, d: string, zone: string | undefined, now: Date) {
  const its = isDay(d) ? 'UTC' : zone;
  const [at, year] = [new Date(d), format('year', { year: 'numeric' }, its)];
  if (year.format(at) === year.format(now)) return format(name, options, its).format(at);
  return format(`${name}, year`, { ...options, year: 'numeric' }, its).format(at);
}

/** "Thu, 26 Nov". */
export const dayWords = (d: string, zone?: string, now = new Date()) =>
  written('day', { weekday: 'short', day: 'numeric', month: 'short' }, d, zone, now);

/** "Thursday 26 November". */
export const longDay = (d: string, zone?: string, now = new Date()) =>
  written('long', { weekday: 'long', day: 'numeric', month: 'long' }, d, zone, now);

/** "26 Nov, 09:05", with the zone where it is not the reader's. */
export function momentWords(d: string, zone?: string, now = new Date()): string {
  const options: Intl.DateTimeFormatOptions = { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' };
  if (!zone || zone === here()) return written('moment', options, d, zone, now);
  return written('moment there', { ...options, timeZoneName: 'short' }, d, zone, now);
}

/** "09:05". */
export const clockWords = (d: string, zone?: string) =>
  format('clock', { hour: '2-digit', minute: '2-digit' }, zone).format(new Date(d));

/** How far a due day is: "today", "Thu, 26 Nov", "2 days late". */
export function due(d: string | undefined, zone?: string, now = new Date()): { words: string; late: boolean } {
  if (!d) return { words: 'no date', late: false };
  const parts = format('numbers', { year: 'numeric', month: 'numeric', day: 'numeric' }, zone).formatToParts(now);
  const part = (type: Intl.DateTimeFormatPartTypes) => Number(parts.find((p) => p.type === type)!.value);
  const today = Date.UTC(part('year'), part('month') - 1, part('day'));
  const days = Math.round((Date.parse(d) - today) / 86_400_000);
  if (days === 0) return { words: 'today', late: false };
  if (days === 1) return { words: 'tomorrow', late: false };
  if (days === -1) return { words: 'since yesterday', late: true };
  if (days < 0) return { words: `${-days} days late`, late: true };
  return { words: dayWords(d, zone, now), late: false };
}

/** Writes a weight for people: "148 kB". */
export function weight(bytes: number): string {
  if (bytes < 1000) return `${bytes} bytes`;
  if (bytes < 1_000_000) return `${Math.round(bytes / 1000)} kB`;
  return `${(bytes / 1_000_000).toFixed(1)} MB`;
}
