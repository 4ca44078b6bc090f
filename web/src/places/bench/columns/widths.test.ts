import { describe, expect, it } from 'vitest';
import { choices, most, says } from './widths';

describe('how wide columns may be', () => {
  it('is said in words', () => {
    expect(says([1, 1, 1])).toBe('equal');
    expect(says([2, 1])).toBe('wide, narrow');
    expect(says([1, 2, 1])).toBe('narrow, wide, narrow');
  });
  it('is offered for every row that a column may be added to', () => {
    for (let n = 2; n <= most; n++) for (const c of choices[n]!) expect(c).toHaveLength(n);
  });
});
