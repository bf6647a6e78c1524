import { FILTER_RATE_HZ, filterOf } from '../../../test/filterAlone';
import { createRandom, decibels } from '../../../test/signals';
import type { Filter } from '../../patch/schema';
import { filterKinds } from '../../patch/schemas/shapingSchema';
import { writeFormants } from './formant';

/** Gain in dB at a frequency, from the steady state of a quiet sine. */
function gainDb(fields: Record<string, unknown>, hz: number): number {
  const level = 1e-3;
  const signal = Float64Array.from(
    { length: FILTER_RATE_HZ },
    (_, i) => level * Math.sin((2 * Math.PI * hz * i) / FILTER_RATE_HZ),
  );
  filterOf(fields).run(signal);
  const tail = signal.subarray(FILTER_RATE_HZ / 2);
  return decibels(Math.sqrt((2 * tail.reduce((sum, x) => sum + x * x, 0)) / tail.length) / level);
}

/**
 * |H| in dB of an analogue prototype at the frequency that the bilinear transform, tuned to the cutoff, takes
 * it to.
 */
function prototypeDb(h: (s: { re: number; im: number }) => { re: number; im: number }, cutoffHz: number, hz: number) {
  const w = Math.tan((Math.PI * hz) / FILTER_RATE_HZ) / Math.tan((Math.PI * cutoffHz) / FILTER_RATE_HZ);
  const { re, im } = h({ re: 0, im: w });
  return decibels(Math.hypot(re, im));
}

type Complex = { re: number; im: number };

const complex = (re: number, im = 0): Complex => ({ re, im });

const times = (a: Complex, b: Complex) => complex(a.re * b.re - a.im * b.im, a.re * b.im + a.im * b.re);

const plus = (...terms: Complex[]) => terms.reduce((a, b) => complex(a.re + b.re, a.im + b.im));

const over = (a: Complex, b: Complex) => {
  const size = b.re * b.re + b.im * b.im;
  return complex((a.re * b.re + a.im * b.im) / size, (a.im * b.re - a.re * b.im) / size);
};

const scaled = (a: Complex, k: number) => complex(a.re * k, a.im * k);

const offsets = [0.25, 0.5, 0.8, 1, 1.25, 2, 4];

describe('Filters have their published responses within 0.2 dB', () => {
  // R. Bristow-Johnson, Audio EQ Cookbook: analogue prototypes H(s), s normalised to the cutoff.
  const A = 10 ** (9 / 40);
  const Q = 2;
  const cookbook: [string, Record<string, unknown>, (s: Complex) => Complex][] = [
    [
      'LPF',
      { kind: 'lowpass', slopeDbPerOctave: 12, resonanceDb: decibels(Q * Math.SQRT2) },
      (s) => over(complex(1), plus(times(s, s), scaled(s, 1 / Q), complex(1))),
    ],
    [
      'HPF',
      { kind: 'highpass', slopeDbPerOctave: 12, resonanceDb: decibels(Q * Math.SQRT2) },
      (s) => over(times(s, s), plus(times(s, s), scaled(s, 1 / Q), complex(1))),
    ],
    [
      'BPF, constant peak',
      { kind: 'bandpass', slopeDbPerOctave: 12, resonanceDb: decibels(Q * Math.SQRT2) },
      (s) => over(scaled(s, 1 / Q), plus(times(s, s), scaled(s, 1 / Q), complex(1))),
    ],
    [
      'notch',
      { kind: 'notch', q: Q },
      (s) => over(plus(times(s, s), complex(1)), plus(times(s, s), scaled(s, 1 / Q), complex(1))),
    ],
    [
      'peaking EQ',
      { kind: 'peak', q: Q, gainDb: 9 },
      (s) => over(plus(times(s, s), scaled(s, A / Q), complex(1)), plus(times(s, s), scaled(s, 1 / A / Q), complex(1))),
    ],
    [
      'low shelf',
      { kind: 'lowShelf', q: Q, gainDb: 9 },
      (s) =>
        scaled(
          over(
            plus(times(s, s), scaled(s, Math.sqrt(A) / Q), complex(A)),
            plus(scaled(times(s, s), A), scaled(s, Math.sqrt(A) / Q), complex(1)),
          ),
          A,
        ),
    ],
    [
      'high shelf',
      { kind: 'highShelf', q: Q, gainDb: 9 },
      (s) =>
        scaled(
          over(
            plus(scaled(times(s, s), A), scaled(s, Math.sqrt(A) / Q), complex(1)),
            plus(times(s, s), scaled(s, Math.sqrt(A) / Q), complex(A)),
          ),
          A,
        ),
    ],
    // Zavalishin, The Art of VA Filter Design, 5: the ladder.
    [
      'ladder, k = 2',
      { kind: 'ladder', resonance: 50 },
      (s) =>
        over(
          complex(1),
          plus(
            times(times(plus(s, complex(1)), plus(s, complex(1))), times(plus(s, complex(1)), plus(s, complex(1)))),
            complex(2),
          ),
        ),
    ],
  ];
  it.each(cookbook)('%s', (_name, fields, h) => {
    for (const cutoffHz of [300, 3000]) {
      for (const offset of offsets) {
        const expected = prototypeDb(h, cutoffHz, offset * cutoffHz);
        // A notch's depth is limited by how long the sine rings in.
        if (expected < -60) continue;
        expect(Math.abs(gainDb({ ...fields, cutoffHz }, offset * cutoffHz) - expected)).toBeLessThan(0.2);
      }
    }
  });

  it.each([6, 12, 18, 24] as const)('Butterworth low- and high-pass of %i dB per octave', (slope) => {
    const warp = (hz: number) => Math.tan((Math.PI * hz) / FILTER_RATE_HZ);
    for (const offset of offsets) {
      const ratio = warp(1000 * offset) / warp(1000);
      const low = -10 * Math.log10(1 + ratio ** (slope / 3));
      const high = -10 * Math.log10(1 + ratio ** (-slope / 3));
      const fields = { slopeDbPerOctave: slope, cutoffHz: 1000 };
      expect(Math.abs(gainDb({ kind: 'lowpass', ...fields }, 1000 * offset) - low)).toBeLessThan(0.2);
      expect(Math.abs(gainDb({ kind: 'highpass', ...fields }, 1000 * offset) - high)).toBeLessThan(0.2);
    }
  });

  it.each([12, 24] as const)('%i dB: resonance is the gain at the cutoff over that without', (slopeDbPerOctave) => {
    const fields = { kind: 'lowpass', slopeDbPerOctave, cutoffHz: 1000 };
    expect(gainDb({ ...fields, resonanceDb: 12 }, 1000)).toBeCloseTo(12 - 3.01, 1);
  });

  it('comb: 1/(1 ∓ f) on and between the teeth', () => {
    const f = 0.7;
    const scale = decibels(Math.sqrt(1 - f * f));
    const fields = { kind: 'comb', cutoffHz: 441, feedback: 100 * f };
    expect(gainDb(fields, 441)).toBeCloseTo(scale - decibels(1 - f), 1);
    expect(gainDb(fields, 661.5)).toBeCloseTo(scale - decibels(1 + f), 1);
    expect(gainDb({ ...fields, polarity: 'negative' }, 441)).toBeCloseTo(scale - decibels(1 + f), 1);
  });

  it('all-pass notches: all-pass by itself', () => {
    for (const hz of [100, 1000, 6000]) {
      expect(gainDb({ kind: 'allPass', cutoffHz: 1000, stages: 6, feedback: 0 }, hz)).toBeCloseTo(0, 2);
    }
  });

  it('low-pass and notch: the notch stands where it is put', () => {
    const fields = { kind: 'lowpassNotch', cutoffHz: 1000, notchSemitones: -12, notchQ: 4 };
    expect(gainDb(fields, 500)).toBeLessThan(-40);
    expect(gainDb(fields, 200)).toBeGreaterThan(-2);
  });

  it('vowel: peaks at the formants of Peterson & Barney 1952', () => {
    const formants = new Float64Array(6);
    writeFormants(0, formants);
    expect(formants[0]).toBeCloseTo(730);
    writeFormants(0.5, formants);
    expect(formants[2]).toBeCloseTo(2290);
    const fields = { kind: 'formant', vowel: 50, resonanceDb: 24 };
    for (const [hz, beside] of [
      [270, 370],
      [2290, 1700],
    ]) {
      expect(gainDb(fields, hz)).toBeGreaterThan(gainDb(fields, beside) + 6);
    }
  });
});

it.each(filterKinds)('%s stays stable while its cutoff jumps from 20 Hz to 20 kHz at every sample', (kind) => {
  const random = createRandom(1);
  const sharp: Partial<Record<Filter['kind'], object>> = { ladder: { resonance: 100 }, comb: { feedback: 90 } };
  const filter = filterOf({ kind, resonanceDb: 24, ...sharp[kind] });
  let peak = 0;
  for (let i = 0; i < FILTER_RATE_HZ; i++) {
    peak = Math.max(peak, Math.abs(filter.sample(2 * random() - 1, i % 2 ? 20 : 20000)));
  }
  expect(peak).toBeLessThan(200);
});

it.each(filterKinds)('%s becomes exactly silent after its input has', (kind) => {
  const filter = filterOf({ kind });
  const signal = new Float64Array(12 * FILTER_RATE_HZ);
  for (let i = 0; i < 100; i++) signal[i] = Math.sin(i);
  filter.run(signal);
  expect(Math.max(...signal.subarray(11 * FILTER_RATE_HZ).map(Math.abs))).toBe(0);
});
