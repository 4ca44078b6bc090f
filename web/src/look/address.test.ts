import { expect, test } from 'vitest';
import { publicAddress } from './address';

// RFC 3986, 2.1 and 3.3; the escaped forms are those of its percent-encoding of UTF-8 (2.5).
test.each([
  ['/fares/', 'https://l.example/fares/'],
  ['/50%.html', 'https://l.example/50%25.html'],
  ['/a%20b.html', 'https://l.example/a%2520b.html'],
  ['/no#1.html', 'https://l.example/no%231.html'],
  ['/q?1.html', 'https://l.example/q%3F1.html'],
  ['/über uns/x.html', 'https://l.example/%C3%BCber%20uns/x.html'],
])('%s is at %s', (path, address) => {
  expect(publicAddress('https://l.example/', path)).toBe(address);
  expect(decodeURIComponent(new URL(address).pathname)).toBe(path);
});
