import { describe, expect, it } from 'vitest';
import { around, moved, sized, stood, straightened } from './geometry';
import { ratio, wanted } from './places';

// Plane geometry, no source: the corners of what is kept lie in the turned picture, and nothing larger would.
describe('straightened', () => {
  it.each([
    [300, 200, 5],
    [200, 300, 12],
    [1600, 400, 45],
  ])('%d × %d by %d°', (width, height, degrees) => {
    const a = (degrees * Math.PI) / 180;
    const kept = straightened({ width, height }, degrees);
    const inside = (by: number) =>
      [1, -1].every((s) => {
        const [x, y] = [(kept.width * by) / 2, (s * kept.height * by) / 2];
        return (
          Math.abs(x * Math.cos(a) + y * Math.sin(a)) <= width / 2 + 1 &&
          Math.abs(-x * Math.sin(a) + y * Math.cos(a)) <= height / 2 + 1
        );
      });
    expect(inside(1)).toBe(true);
    expect(inside(1.03)).toBe(false);
  });
  it('turns first', () => {
    expect(stood({ width: 300, height: 200 }, { turn: 90, flip: '', straighten: 0 })).toEqual({
      width: 200,
      height: 300,
    });
  });
});

// The same cases as the server's test of crops around a focus.
describe('around', () => {
  it.each([
    [{ width: 1, height: 1 }, { x: 0.5, y: 0.5 }, [50, 0, 100, 100]],
    [{ width: 1, height: 1 }, { x: 0, y: 0 }, [0, 0, 100, 100]],
    [{ width: 1, height: 1 }, { x: 1, y: 1 }, [100, 0, 100, 100]],
    [{ width: 4, height: 1 }, { x: 0.5, y: 0.9 }, [0, 50, 200, 50]],
    [{ width: 2, height: 1 }, { x: 0.5, y: 0.5 }, [0, 0, 200, 100]],
  ])('%j around %j', (shape, focus, want) => {
    const r = around({ width: 200, height: 100 }, shape, focus);
    expect([r.x, r.y, r.width, r.height]).toEqual(want);
  });
});

describe('a part by hand', () => {
  const of = { width: 200, height: 100 };
  const r = { x: 50, y: 20, width: 80, height: 40 };
  it('stays in the picture when it is moved', () => {
    expect(moved(r, { x: 500, y: -500 }, of)).toEqual({ ...r, x: 120, y: 0 });
  });
  it('keeps the corner across, its shape and the picture', () => {
    const wide = sized(r, { left: true, top: true }, { x: -500, y: 0 }, of, { width: 2, height: 1 });
    expect(wide.x + wide.width).toBe(130);
    expect(wide.y + wide.height).toBe(60);
    expect(wide.width / wide.height).toBeCloseTo(2, 1);
    expect(wide.x).toBeGreaterThanOrEqual(0);
    expect(wide.y).toBeGreaterThanOrEqual(0);
  });
  it('never vanishes', () => {
    expect(sized(r, { left: false, top: false }, { x: -500, y: -500 }, of).width).toBeGreaterThan(0);
  });
});

it('writes shapes as people do', () => {
  expect([ratio(1280, 512), ratio(1600, 900), ratio(300, 300), ratio(1200, 650)]).toEqual([
    '5:2',
    '16:9',
    '1:1',
    '1.85:1',
  ]);
  expect(wanted([{ at: 1280, width: 600, height: 300, fit: 'fill', own: true }])).toBe(1200);
});
