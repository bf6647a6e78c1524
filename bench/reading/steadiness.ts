import { gapsBetween } from '@imprint/core/matching/gaps';
import { resample } from '../../packages/core/src/dsp/sinc';
import { readTone } from '@imprint/core/reading/read';
import { claimsOf } from '../../packages/core/test/made/claims';
import { withOscillatorsRunning } from '../../packages/core/test/made/parts';
import { madeTones } from '../../packages/core/test/made/tones';
import { createRandom } from '../../packages/core/test/signals';
import { type Check, type Figure, RATE_HZ, check } from './figure';

const SEED = Number(process.env.MADE_SEED ?? 101);
const TONES = 40;
/** No whole number of periods of any tone. */
const RAN_SECONDS = 0.00237;
/** Half a JND is what nobody hears. */
const MOST_JND = 0.5;
/** Curves are compared by the clock of the cut, which an earlier cut moves. */
const CURVES = ['levelContour', 'brightnessContour'];

/** `running` is the signal with oscillators that had run for a while when the note began. */
type Change = (
  signal: Float64Array,
  place: number,
  running: Float64Array,
) => { signal: Float64Array; sampleRateHz?: number };

const scaled =
  (gain: number): Change =>
  (signal) => ({ signal: signal.map((x) => gain * x) });
const roundedTo =
  (bits: number): Change =>
  (signal) => {
    const step = 2 ** (1 - bits);
    return { signal: signal.map((x) => step * Math.round(x / step)) };
  };

function withNoise(seed: number): Change {
  return (signal, place) => {
    const random = createRandom(1000 * seed + place);
    const rms = Math.sqrt(signal.reduce((sum, x) => sum + x * x, 0) / signal.length);
    const gain = rms * Math.sqrt(3) * 10 ** (-70 / 20);
    return { signal: signal.map((x) => x + gain * (2 * random() - 1)) };
  };
}

const EARLIER = 'cut 20 ms earlier';

/** What changes nothing that is heard. */
const changes: Readonly<Record<string, Change>> = {
  'noise at -70 dB': withNoise(1),
  'other noise at -70 dB': withNoise(2),
  'other start phases': (_, __, running) => ({ signal: running }),
  'upside down': scaled(-1),
  '16 bits': roundedTo(16),
  '24 bits': roundedTo(24),
  '48 kHz': (signal) => ({ signal: resample(signal, 48000 / RATE_HZ), sampleRateHz: 48000 }),
  [EARLIER]: (signal) => {
    const lead = Math.round(0.02 * RATE_HZ);
    const longer = new Float64Array(signal.length + lead);
    longer.set(signal, lead);
    return { signal: longer };
  },
  'cut 20 ms shorter': (signal) => ({ signal: signal.slice(0, signal.length - Math.round(0.02 * RATE_HZ)) }),
  '6 dB softer': scaled(0.5),
};

const readOf = (channels: readonly Float64Array[], sampleRateHz: number) =>
  readTone({ channels: channels.map((channel) => Float32Array.from(channel)), sampleRateHz });

export const steadiness: Figure = {
  name: 'nothing that is heard changed: every value within half a JND, the same traits claimed',
  share: 0.95,
  *checks(): Iterable<Check> {
    const running = withOscillatorsRunning(RAN_SECONDS, () => madeTones(SEED));
    for (const [place, tone] of madeTones(SEED).slice(0, TONES).entries()) {
      const before = readOf(tone.channels, RATE_HZ);
      const claimed = [...claimsOf(before).keys()].join(' ');
      for (const [name, change] of Object.entries(changes)) {
        const changed = tone.channels.map((channel, c) => change(channel, place, running[place].channels[c]));
        const after = readOf(
          changed.map(({ signal }) => signal),
          changed[0].sampleRateHz ?? RATE_HZ,
        );
        const found = [...claimsOf(after).keys()].join(' ');
        const far = gapsBetween(before, after).filter(
          ({ trait, gapJnd }) => (gapJnd ?? 0) > MOST_JND && !(name === EARLIER && CURVES.includes(trait)),
        );
        const words = far.map(({ trait, gapJnd }) => `${trait} ${gapJnd?.toFixed(1)}`).join(', ');
        yield check(`${tone.name}, ${name}`, claimed, `${found} ${words}`, far.length === 0 && found === claimed);
      }
    }
  },
};
