import { scaled } from '../../../test/made/madeTone';
import { type Amplitude, falling, hzOf, mixed, pulse, saw, square, tone, twoPole } from '../../../test/made/parts';
import { median } from '../statistics';
import { fitFilteredPair } from './filteredPair';
import { measurePartials } from './partialFrames';
import { some } from '../../../test/thorough';

const SECONDS = 1.2;
const Q = 1.4;
/** Resonance over a Butterworth response (definition). */
const RESONANCE_DB = 20 * Math.log10(Q * Math.SQRT2);

interface Given {
  midi: number;
  moving: Amplitude;
  standing: Amplitude;
  multiple: number;
  gain: number;
  cutoffHz: number;
}

/** One waveform behind a filter that falls, another behind one that stands. */
function fitOf({ midi, moving, standing, multiple, gain, cutoffHz }: Given) {
  const hz = hzOf(midi);
  const first = tone({ seconds: SECONDS, hz, amplitude: moving });
  const second = tone({ seconds: SECONDS, hz: multiple * hz, amplitude: standing, phase: 0.3 });
  const signal = mixed(
    twoPole(first, 'low', falling(12 * hz, 3 * hz, 0.2), Q),
    scaled(
      twoPole(second, 'low', () => cutoffHz, Math.SQRT1_2),
      gain,
    ),
  );
  return fitFilteredPair(
    measurePartials(signal, 44100, () => hz, 0.01),
    2 / hz,
    SECONDS,
  )!;
}

// A saw by its series of 1/n goes twice as far as a square or a pulse of half its period (Fourier series).
some(1).it.each<[string, Given, string, number]>([
  [
    'saw and a square an octave up',
    { midi: 33, moving: saw, standing: square, multiple: 2, gain: 0.5, cutoffHz: 1200 },
    'square',
    -12,
  ],
  [
    'square and a saw two octaves up',
    { midi: 38, moving: square, standing: saw, multiple: 4, gain: 0.2, cutoffHz: 3000 },
    'saw',
    -8,
  ],
  [
    'saw and a narrow pulse two octaves up',
    { midi: 36, moving: saw, standing: pulse(0.2), multiple: 4, gain: 0.5, cutoffHz: 2000 },
    'pulse',
    -12,
  ],
])('a %s behind a filter each are told', (_, given, shape, standingDb) => {
  const found = fitOf(given);
  expect(found.errorDb).toBeLessThan(1.5);
  expect(found.moving).toMatchObject({
    shape: given.moving === saw ? 'saw' : 'square',
    multiple: 1,
    slopeDbPerOctave: 12,
  });
  expect(found.standing).toMatchObject({ shape, multiple: given.multiple });
  expect(Math.abs(Math.log2(found.standing.cutoffHz / given.cutoffHz))).toBeLessThan(1 / 6);
  expect(Math.abs(found.standingDb - standingDb)).toBeLessThan(1.5);
  expect(Math.abs(found.moving.resonanceDb - RESONANCE_DB)).toBeLessThan(1.5);
  const rest = median([...found.cutoffHz].filter(Number.isFinite).slice(-20));
  expect(Math.abs(Math.log2(rest / (3 * hzOf(given.midi))))).toBeLessThan(1 / 3);
});

it('nothing is told where nothing moves', () => {
  const signal = tone({ seconds: SECONDS, hz: 110 });
  expect(
    fitFilteredPair(
      measurePartials(signal, 44100, () => 110, 0.01),
      0.02,
      SECONDS,
    ),
  ).toBeUndefined();
});
