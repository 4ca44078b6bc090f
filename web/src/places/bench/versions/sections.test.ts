import { expect, it } from 'vitest';
import type { Schemas } from '../../../api/client';
import { sections } from './sections';

const row = (key: string, section?: string) =>
  ({
    key,
    kind: 'words',
    name: key,
    say: '',
    words: [],
    section,
    section_name: section && `The ${section}`,
  }) as Schemas['VersionRow'];

it('offers a section whole where more than one of its parts differ, once', () => {
  const at = sections([row('a', 's'), row('b'), row('c', 't'), row('d', 's'), row('e', 's')]);
  expect([...at]).toEqual([['a', { id: 's', name: 'The s' }]]);
});
