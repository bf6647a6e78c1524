import { sourcePatch } from '../../../test/patches';
import { RATE, note, play } from '../../../test/playing';
import { amplitudeAt } from '../../../test/signals';
import { powerSpectrum } from '../../../test/spectrum';
import { renderPatch } from '../render';
import { some } from '../../../test/thorough';

describe('Noise', () => {
  some(1).it.each([
    [0, 0],
    [-3, -3.01],
    [-6, -6.02],
  ])('noise of %f dB per octave falls so', (slopeDbPerOctave, expected) => {
    const [signal] = play(sourcePatch({ kind: 'noise', slopeDbPerOctave }), [note(0, 9, 60)], 8);
    // Mean power of single lines within an octave.
    const bandDb = (fromHz: number) => {
      let sum = 0;
      for (let i = 0; i < 60; i++) sum += amplitudeAt(signal.subarray(0, RATE), RATE, fromHz * (1 + i / 60)) ** 2;
      return 10 * Math.log10(sum);
    };
    expect((bandDb(4000) - bandDb(500)) / 3).toBeGreaterThan(expected - 0.8);
    expect((bandDb(4000) - bandDb(500)) / 3).toBeLessThan(expected + 0.8);
  });

  some(1).it.each([44100, 48000, 96000])(
    'coloured noise keeps its slope from 40 Hz to 18 kHz at %d Hz',
    (sampleRateHz) => {
      for (const slopeDbPerOctave of [-1.5, -3, -4.5, -6]) {
        const patch = sourcePatch({ kind: 'noise', slopeDbPerOctave });
        const [signal] = renderPatch({ patch, notes: [note(0, 99, 60)], sampleRateHz, seconds: 12 });
        const frames = Array.from({ length: 24 }, (_, f) => powerSpectrum(signal.subarray(f * 16000)));
        const spectrum = frames[0].map((_, k) => frames.reduce((sum, frame) => sum + frame[k], 0));
        const hzPerLine = sampleRateHz / 2 / spectrum.length;
        const bandDb = (hz: number) => {
          const [from, to] = [2 ** (-1 / 6), 2 ** (1 / 6)].map((ratio) => Math.round((hz * ratio) / hzPerLine));
          return 10 * Math.log10(spectrum.subarray(from, to).reduce((sum, x) => sum + x, 0) / (to - from));
        };
        const atKilohertz = bandDb(1000);
        for (const hz of [40, 90, 200, 500, 2000, 5000, 10000, 13000, 16000]) {
          // Mean of a power law over a band of a third of an octave is within 0.02 dB of its middle.
          expect(Math.abs(bandDb(hz) - atKilohertz - 1.00343 * slopeDbPerOctave * Math.log2(hz / 1000))).toBeLessThan(
            1,
          );
        }
      }
    },
  );

  it('noise repeats with every note when asked to', () => {
    const two = [note(0, 0.2, 60), note(0.5, 0.2, 60)];
    for (const restart of ['note', 'free'] as const) {
      const [signal] = play(sourcePatch({ kind: 'noise', restart }), two, 1);
      const first = signal.slice(0, 0.1 * RATE);
      const second = signal.slice(0.5 * RATE, 0.6 * RATE);
      if (restart === 'note') expect(second).toEqual(first);
      else expect(second).not.toEqual(first);
    }
  });
});
