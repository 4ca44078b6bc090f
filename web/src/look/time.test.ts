import { describe, expect, it } from 'vitest';
import { dayWords, due, longDay, momentWords, weight } from './time';

const now = new Date('2026-11-26T23:30:00Z');

describe('due days', () => {
  it.each([
    ['2026-11-26', 'Europe/London', 'today', false],
    ['2026-11-27', 'Europe/London', 'tomorrow', false],
    ['2026-11-25', 'Europe/London', 'since yesterday', true],
    ['2026-11-20', 'Europe/London', '6 days late', true],
    // In Auckland it is the 27th already, in Halifax still the 26th.
    ['2026-11-27', 'Pacific/Auckland', 'today', false],
    ['2026-11-26', 'Pacific/Auckland', 'since yesterday', true],
    ['2026-11-27', 'America/Halifax', 'tomorrow', false],
  ])('%s by the clock of %s is %s', (day, zone, words, late) => {
    expect(due(day, zone, now)).toEqual({ words, late });
  });
  it('are named by their day when they are further off', () => {
    expect(due('2026-12-04', 'Europe/London', now).words).toMatch(/^Fri,? 4 Dec$/); // the comma is the browser's
  });
  it('says so where there is none', () =>
    expect(due(undefined, 'UTC', now)).toEqual({ words: 'no date', late: false }));
});

describe('moments', () => {
  it('are told by the clock of the site, with its name', () => {
    expect(momentWords('2026-11-26T08:05:00.000001Z', 'America/Halifax', now)).toBe('26 Nov, 04:05 GMT-4');
  });
  it('have their year where that is another one, by the same clock', () => {
    expect(momentWords('2024-02-29T08:05:00Z', 'America/Halifax', now)).toBe('29 Feb 2024, 04:05 GMT-4');
    expect(longDay('2025-12-31', 'UTC', now)).toMatch(/^Wednesday,? 31 December 2025$/);
    const night = '2025-12-31T23:30:00Z'; // in Auckland the new year has begun
    expect(dayWords(night, 'Pacific/Auckland', now)).toMatch(/^Thu,? 1 Jan$/);
    expect(dayWords(night, 'UTC', now)).toMatch(/^Wed,? 31 Dec 2025$/);
  });
  it('a day alone is the same day everywhere', () => {
    expect(longDay('2026-11-26', 'Pacific/Auckland', now)).toBe('Thursday 26 November');
    expect(longDay('2026-11-26', 'America/Halifax', now)).toBe('Thursday 26 November');
  });
});

it.each([
  [999, '999 bytes'],
  [1000, '1 kB'],
  [148_400, '148 kB'],
  [4_200_000, '4.2 MB'],
])('%d bytes weigh %s', (bytes, words) => expect(weight(bytes)).toBe(words));
