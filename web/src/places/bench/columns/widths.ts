/** How wide columns may be beside each other, by how many there are. */
export const choices: Record<number, number[][]> = {
  2: [
    [1, 1],
    [2, 1],
    [1, 2],
  ],
  3: [
    [1, 1, 1],
    [2, 1, 1],
    [1, 2, 1],
    [1, 1, 2],
  ],
  4: [[1, 1, 1, 1]],
};

/** That in words. */
export function says(wide: number[]): string {
  const most = Math.max(...wide);
  if (wide.every((n) => n === most)) return 'equal';
  return wide.map((n) => (n === most ? 'wide' : 'narrow')).join(', ');
}

export const most = 4; // columns of a row
