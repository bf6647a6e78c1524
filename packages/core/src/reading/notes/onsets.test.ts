import { harmonicTone, saw } from '../../../test/signals';
import { findOnsets } from './onsets';
import { extremesOf, measurePeaks } from '../partials/peaks';
import { computeSpectrogram } from '../spectra/spectrogram';
import { averageSpectrum } from '../spectra/averageSpectrum';

const RATE = 44100;

describe('Onsets', () => {
  // Struck notes at known times over a little noise.
  const times = [0.3, 0.8, 1.05, 1.9];
  const sound = new Float32Array(2.5 * RATE);
  times.forEach((at, i) => {
    const note = harmonicTone({ f0Hz: 110 * (i + 1), amplitude: saw, seconds: 0.5, envelope: (t) => Math.exp(-8 * t) });
    note.forEach((x, k) => (sound[Math.round(at * RATE) + k] += x));
  });
  const found = findOnsets(sound, RATE);

  it('are all found, and nothing else', () => expect(found).toHaveLength(times.length));
  it('are at most 20 ms from the truth', () => {
    times.forEach((at, i) => expect(Math.abs(found[i] - at)).toBeLessThan(0.02));
  });
  it('are as near at the end of a long file as at its start', () => {
    const long = new Float32Array(40 * RATE);
    [1, 20, 39.5].forEach((at) => long.set(sound.subarray(0.3 * RATE, 0.7 * RATE), at * RATE));
    const late = findOnsets(long, RATE);
    expect(late).toHaveLength(3);
    [1, 20, 39.5].forEach((at, i) => expect(Math.abs(late[i] - at)).toBeLessThan(0.02));
  });
  it('are none in silence', () => expect(findOnsets(new Float32Array(RATE), RATE)).toEqual([]));
});

describe('Peaks of a waveform', () => {
  const channels = [Float32Array.of(0, 1, -1, 0.5), Float32Array.of(0.2, 0, 0, -2)];
  it('hold the extremes of all channels in each stretch', () => {
    expect(Array.from(measurePeaks(channels, 2).extremes)).toEqual([0, 1, -2, 0.5]);
  });
  it('are zero where there are no samples', () => expect(extremesOf(channels, 10, 20)).toEqual([0, 0]));
});

describe('Spectrogram', () => {
  const tone = harmonicTone({ f0Hz: 1000, amplitude: (n) => (n === 1 ? 1 : 0), seconds: 1 });
  const options = { fromSeconds: 0, toSeconds: 1, columns: 20, rows: 100, minHz: 50, maxHz: 16000 };
  const { levels } = computeSpectrogram(tone, RATE, options);
  it('is strongest in the row of a sine’s frequency, all along', () => {
    const expected = Math.floor((100 * Math.log(1000 / 50)) / Math.log(16000 / 50));
    for (let column = 1; column < 19; column++) {
      const rows = levels.subarray(column * 100, (column + 1) * 100);
      expect(Math.abs(rows.indexOf(Math.max(...rows)) - expected)).toBeLessThanOrEqual(1);
    }
  });
  it('reports its progress, and stops when the report throws', () => {
    const stop = () => {
      throw new Error('enough');
    };
    expect(() => computeSpectrogram(tone, RATE, options, stop)).toThrow('enough');
  });
});

it('an average spectrum has a sine at its level, in its band', () => {
  const sine = Float32Array.from({ length: 2 * RATE }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 1000 * i) / RATE));
  const { centresHz, levelsDb } = averageSpectrum({ channels: [sine], sampleRateHz: RATE });
  const loudest = levelsDb.indexOf(Math.max(...levelsDb));
  expect(Math.abs(Math.log2(centresHz[loudest] / 1000))).toBeLessThan(1 / 12);
  expect(levelsDb[loudest]).toBeGreaterThan(-8);
  expect(levelsDb[loudest]).toBeLessThan(-5);
});
