import type { Schemas } from '../../../api/client';

/** The sides of a look in the order in which they are shown, and what they are called. */
export const titles: Record<Schemas['LookAspect'], string> = {
  ground: 'Background',
  ink: 'Colour of the words',
  letters: 'Letters',
  space: 'Space',
  shadow: 'Shadow',
  motion: 'Motion',
};
