import { adding, bySemitones, linear, log } from '../build';
import type { Parameter } from '../parameter';
import { defineEffect } from './defineEffect';
import { outputDb, wet } from './shared';

export const EQUALIZER_BANDS = 8;
const bandHz = [30, 80, 200, 500, 1200, 3000, 7000, 14000];

type BandNumber = 1 | 2 | 3 | 4 | 5 | 6 | 7 | 8;
type BandParameters = Record<`band${BandNumber}${'Hz' | 'Db' | 'Q'}`, Parameter>;

const bandParameters = Object.fromEntries(
  bandHz.flatMap((hz, i) => [
    [`band${i + 1}Hz`, log(`Frequency ${i + 1}`, 'Hz', [20, 20000], hz, 0.1, ['brightness'], bySemitones)],
    [`band${i + 1}Db`, linear(`Gain ${i + 1}`, 'dB', [-24, 24], 0, 0.1, ['brightness'], adding('dB', 48))],
    [`band${i + 1}Q`, log(`Q ${i + 1}`, '', [0.1, 40], 0.71, 0.01, ['brightness'], adding('', 40))],
  ]),
) as BandParameters;

/** Names of a band's numbers: frequency, gain, Q. */
export const numbersOfBand = (index: number) =>
  (['Hz', 'Db', 'Q'] as const).map((what) => `band${(index + 1) as BandNumber}${what}` as const);

export const equalizer = defineEffect({
  kind: 'equalizer',
  title: 'Equaliser',
  purpose: 'eight bands, one after the other',
  heard: 'the same tone with some of its range lifted or lowered',
  parameters: {
    ...bandParameters,
    outputDb,
    mix: wet(),
  },
  choices: {
    bands: { of: 'bands', label: 'Bands', count: EQUALIZER_BANDS },
  },
  hidden: ({ bands }) =>
    bands.flatMap(({ kind }, i) => {
      const [hz, db, q] = numbersOfBand(i);
      if (kind === 'off') return [hz, db, q];
      return kind === 'lowCut' || kind === 'highCut' || kind === 'notch' ? [db] : [];
    }),
  detail: ({ bands }) => {
    const count = bands.filter(({ kind }) => kind !== 'off').length;
    return count === 1 ? '1 band' : `${count} bands`;
  },
});
