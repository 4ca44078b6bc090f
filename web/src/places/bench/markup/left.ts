import { drawer, read } from '../../../look/drawer';

/** What somebody wrote as markup and did not keep yet stands on this machine until it is kept or left. */
export interface Left {
  /** The markup that it was written on. */
  was: string;
  now: string;
}

const key = (number: number, page: number, part: string) => `mendry markup ${number} ${page} ${part}`;

export function leftOf(number: number, page: number, part: string): Left | undefined {
  const left = read<Left>(key(number, page, part));
  return typeof left?.was === 'string' && typeof left.now === 'string' && left.was !== left.now ? left : undefined;
}

export function leave(number: number, page: number, part: string, left?: Left) {
  if (left && left.was !== left.now) drawer.put(key(number, page, part), JSON.stringify(left));
  else drawer.drop(key(number, page, part));
}
