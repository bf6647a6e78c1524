import { adding, linear, log, share } from '../build';
import { formatValue } from '../format';
import type { Parameter } from '../parameter';
import { defineEffect } from './defineEffect';
import { outputDb, wet } from './shared';

type BandName = 'low' | 'mid' | 'high';
type CompressedBand = Record<`${BandName}${'DownDb' | 'DownRatio' | 'UpDb' | 'UpRatio' | 'OutDb'}`, Parameter>;

const loud = ['loudness', 'brightness'] as const;
const compressedBands = Object.fromEntries(
  (['low', 'mid', 'high'] as const).flatMap((band) => {
    const name = band[0].toUpperCase() + band.slice(1);
    return [
      [`${band}DownDb`, linear(`${name}, above`, 'dB', [-60, 0], -24, 0.1, loud, adding('dB', 60))],
      [`${band}DownRatio`, log(`${name}, ratio down`, '', [1, 100], 4, 0.1, loud)],
      [`${band}UpDb`, linear(`${name}, below`, 'dB', [-80, 0], -40, 0.1, loud, adding('dB', 80))],
      [`${band}UpRatio`, log(`${name}, ratio up`, '', [1, 20], 2, 0.1, loud)],
      [`${band}OutDb`, linear(`${name}, output`, 'dB', [-36, 24], 0, 0.1, loud, adding('dB', 60))],
    ];
  }),
) as CompressedBand;

export const multiband = defineEffect({
  kind: 'multiband',
  title: 'Three-band compressor',
  purpose: 'turns down what is loud and up what is soft, in three bands',
  heard: 'denser, every range as loud as the others',
  parameters: {
    lowHz: log('Low and mid part at', 'Hz', [40, 1000], 160, 0.1, loud),
    highHz: log('Mid and high part at', 'Hz', [1000, 12000], 2500, 0.1, loud),
    amount: share('Amount', 100, ['loudness']),
    timeScale: log('Times', '%', [10, 1000], 100, 1, ['loudness']),
    ...compressedBands,
    mix: wet(),
    outputDb,
  },
  detail: ({ amount, lowHz, highHz }) =>
    `${formatValue(amount, '%')}, ${formatValue(lowHz, 'Hz')}, ${formatValue(highHz, 'Hz')}`,
});
