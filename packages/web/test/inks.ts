import type { Inks } from '../src/drawing/inks';

/** Inks that are told apart by their names. */
export const namedInks: Inks = {
  reference: 'blue',
  patch: 'red',
  paper: 'white',
  ink: 'black',
  soft: 'grey',
  hairline: 'silver',
  overprint: 'multiply',
};
