import { centsBetween } from '@imprint/core/dsp/pitch';
import { median } from '../../packages/core/src/reading/statistics';
import { findFundamental } from '../../packages/core/src/reading/pitch/fundamental';
import { trackPitch } from '../../packages/core/src/reading/pitch/pitchTrack';
import { times, voices } from '../../packages/core/test/effects';
import { type ContourCase, contourSound } from '../../packages/core/test/contourCases';
import { type FilterCase, filterCases, filterSound } from '../../packages/core/test/filterCases';
import { createRandom, harmonicTone } from '../../packages/core/test/signals';
import { type Check, type Figure, RATE_HZ, check, createDice, held, near, nearOctaves, read } from './figure';

const spectra: Record<string, (n: number) => number> = {
  saw: (n) => 1 / n,
  square: (n) => (n % 2 ? 1 / n : 0),
  triangle: (n) => (n % 2 ? 1 / n ** 2 : 0),
  sine: (n) => (n === 1 ? 1 : 0),
  'weak fundamental': (n) => (n === 1 ? 0.01 : 1 / n),
  'pulse of 20 %': (n) => Math.abs(Math.sin(Math.PI * n * 0.2)) / n,
  'strong second': (n) => (n === 2 ? 2 : 1 / n),
  hump: (n) => Math.exp(-((Math.log2(n) - 2) ** 2)),
};

/** 200 fundamentals over seven octaves, phases at random, noise at −50 dB. */
export function pitchErrors(): { words: string; cents: number; tone: Float64Array; f0Hz: number }[] {
  const { between, pick, random } = createDice(11);
  return Array.from({ length: 200 }, () => {
    const f0Hz = between(32, 2500);
    const shape = pick(Object.keys(spectra));
    const phases = Array.from({ length: 800 }, () => 2 * Math.PI * random());
    const tone = Float64Array.from(
      harmonicTone({
        f0Hz,
        amplitude: spectra[shape],
        phase: (n) => phases[n],
        noiseDb: -50,
        envelope: (t) => Math.exp(-t),
      }),
    );
    const found = findFundamental(tone, RATE_HZ, trackPitch(tone, RATE_HZ));
    const cents = centsBetween(f0Hz, found?.f0Hz ?? 1);
    return { words: `${shape} at ${f0Hz.toFixed(1)} Hz`, cents, tone, f0Hz };
  });
}

export const pitch: Figure = {
  name: 'f0 within 5 cents, no octave error; the median of all within 1',
  share: 1,
  *checks() {
    const errors = pitchErrors();
    for (const { words, cents } of errors) yield check(words, '0 ct', `${cents.toFixed(3)} ct`, Math.abs(cents) <= 5);
    const middle = median(errors.map(({ cents }) => Math.abs(cents)));
    yield check('median', 'under 1 ct', middle, middle < 1);
  },
};

export const contours: Figure = {
  name: 'times of the contour within 20 % or 4 ms, sustain within 1.5 dB',
  share: 0.9,
  *checks() {
    const { between, pick } = createDice(23);
    for (let i = 0; i < 24; i++) {
      const attackSeconds = between(0.002, 0.8);
      const decaySeconds = between(0.08, 1);
      const row: ContourCase = {
        name: String(i),
        f0Hz: between(45, 500),
        attackSeconds,
        holdSeconds: 0,
        decaySeconds,
        sustain: pick([0.1, 0.3, 0.5, 0.7]),
        noteOffSeconds: attackSeconds + decaySeconds * between(1.2, 2.5),
        releaseSeconds: between(0.05, 1),
      };
      const { loudness } = read(contourSound(row)).traits;
      const { confidence } = loudness;
      const words = `contour ${i}, ${row.f0Hz.toFixed(0)} Hz`;
      for (const name of ['attackSeconds', 'decaySeconds', 'releaseSeconds'] as const) {
        yield check(
          `${words}, ${name}`,
          row[name],
          loudness[name],
          near(loudness[name], row[name], 0.2, 0.004),
          confidence,
        );
      }
      const sustainDb = 20 * Math.log10(row.sustain);
      yield check(
        `${words}, sustain`,
        sustainDb,
        loudness.sustainDb,
        near(loudness.sustainDb, sustainDb, 0, 1.5),
        confidence,
      );
    }
  },
};

const filterWords = ({ name, f0Hz }: FilterCase) => `${name}, ${f0Hz} Hz`;

/** The tones of `filterCases`, struck and let go. */
const filtered = (row: FilterCase) => times(filterSound(row), held({ attack: 0.005, off: 1.8 }));

export const cutoffs: Figure = {
  name: 'cutoff within a sixth of an octave, slope right, resonance within 2 dB; ends of a sweep within a third, its time within 25 %',
  share: 0.9,
  *checks() {
    for (const row of filterCases) {
      const { brightness } = read(filtered(row)).traits;
      const { confidence, sweep } = brightness;
      const words = filterWords(row);
      const moves = Math.abs(Math.log2(row.fromHz / row.toHz)) > 0.5;
      if (!moves) {
        yield check(
          `${words}, cutoff`,
          row.fromHz,
          brightness.cutoffHz,
          nearOctaves(brightness.cutoffHz, row.fromHz, 1 / 6),
          confidence,
        );
      } else {
        yield check(
          `${words}, from`,
          row.fromHz,
          sweep?.fromHz,
          nearOctaves(sweep?.fromHz ?? null, row.fromHz, 1 / 3),
          confidence,
        );
        yield check(
          `${words}, to`,
          row.toHz,
          sweep?.toHz,
          nearOctaves(sweep?.toHz ?? null, row.toHz, 1 / 3),
          confidence,
        );
        // Nine tenths of the way of an exponential.
        const wanted = row.tauSeconds * Math.log(10);
        yield check(`${words}, time`, wanted, sweep?.seconds, near(sweep?.seconds ?? null, wanted, 0.25), confidence);
      }
      yield check(
        `${words}, slope`,
        row.slope,
        brightness.slopeDbPerOctave,
        brightness.slopeDbPerOctave === row.slope,
        confidence,
      );
      yield check(
        `${words}, resonance`,
        row.resonanceDb,
        brightness.resonanceDb,
        near(brightness.resonanceDb, row.resonanceDb, 0, 2),
        confidence,
      );
    }
  },
};

export const shapes: Figure = {
  name: 'nearest plain shape, pulse width within 3 %',
  share: 0.95,
  *checks() {
    const { between } = createDice(31);
    const plain: [string, (n: number) => number, number?][] = [
      ['saw', spectra.saw],
      ['square', spectra.square],
      ['triangle', spectra.triangle],
      ['sine', spectra.sine],
      ['pulse', (n) => Math.abs(Math.sin(Math.PI * n * 0.1)) / n, 0.1],
      ['pulse', (n) => Math.abs(Math.sin(Math.PI * n * 0.25)) / n, 0.25],
      ['pulse', (n) => Math.abs(Math.sin(Math.PI * n * 0.38)) / n, 0.38],
    ];
    for (const [name, amplitude, width] of plain) {
      for (let i = 0; i < 4; i++) {
        const f0Hz = between(50, 900);
        const tone = harmonicTone({ f0Hz, amplitude, envelope: held({ off: 0.8 }) });
        const { partials } = read(tone).traits;
        yield check(
          `${name} at ${f0Hz.toFixed(0)} Hz`,
          name,
          partials.nearestShape,
          partials.nearestShape === name,
          partials.confidence,
        );
        if (width !== undefined) {
          yield check(
            `pulse at ${f0Hz.toFixed(0)} Hz, width`,
            width,
            partials.pulseWidth,
            near(partials.pulseWidth, width, 0, 0.03),
            partials.confidence,
          );
        }
      }
    }
  },
};

export const standouts: Figure = {
  name: 'partials that stand out from their neighbours, and no others',
  share: 0.95,
  *checks() {
    const { between, random } = createDice(37);
    for (let i = 0; i < 24; i++) {
      const f0Hz = between(50, 500);
      const lone = i % 4 === 0 ? [] : i % 4 === 1 ? [3 + Math.floor(9 * random())] : [4, 9 + Math.floor(5 * random())];
      const liftDb = between(9, 20);
      const tilt = between(0.8, 1.6);
      const tone = harmonicTone({
        f0Hz,
        amplitude: (n) => (1 / n ** tilt) * (lone.includes(n) ? 10 ** (liftDb / 20) : 1),
        envelope: held({ off: 0.8 }),
      });
      const { standout, confidence } = read(tone).traits.partials;
      const right = [...standout].sort((a, b) => a - b).join() === lone.join();
      yield check(
        `${f0Hz.toFixed(0)} Hz, lifted by ${liftDb.toFixed(0)} dB`,
        `[${lone.join()}]`,
        `[${standout.join()}]`,
        right,
        confidence,
      );
    }
  },
};

/** Noise of three colours, by a one-pole low- or high-pass over white. */
function noise(seconds: number, colour: 'white' | 'dark' | 'bright', seed: number): Float64Array {
  const random = createRandom(seed);
  const share = 1 - Math.exp((-2 * Math.PI * (colour === 'dark' ? 1500 : 5000)) / RATE_HZ);
  let low = 0;
  return Float64Array.from({ length: Math.round(seconds * RATE_HZ) }, () => {
    const x = 2 * random() - 1;
    low += share * (x - low);
    return colour === 'white' ? x : colour === 'dark' ? low : x - low;
  });
}

const power = (x: Float64Array) => x.reduce((sum, v) => sum + v * v, 0) / x.length;

export const noises: Figure = {
  name: 'noise within 2 dB, down to −40 dB',
  share: 0.9,
  *checks() {
    const { between } = createDice(41);
    let seed = 0;
    for (const colour of ['white', 'dark', 'bright'] as const) {
      for (const levelDb of [-10, -20, -30, -40]) {
        for (let i = 0; i < 2; i++) {
          const f0Hz = between(60, 600);
          const tone = voices({ f0Hz, seconds: 1.5 });
          const hiss = noise(1.5, colour, ++seed);
          const gain = Math.sqrt(power(tone) / power(hiss)) * 10 ** (levelDb / 20);
          const sound = times(
            tone.map((x, k) => x + gain * hiss[k]),
            held({ off: 1.3 }),
          );
          const { noise: found } = read(sound).traits;
          yield check(
            `${colour}, ${f0Hz.toFixed(0)} Hz`,
            levelDb,
            found.levelDb,
            near(found.levelDb, levelDb, 0, 2),
            found.confidence,
          );
        }
      }
    }
  },
};

/** What a dry tone may not be said to have. */
export const nothing: Figure = {
  name: 'nothing is claimed of dry steady tones',
  share: 1,
  *checks(): Iterable<Check> {
    const { between } = createDice(43);
    const dry: [string, (n: number) => number][] = [
      ['sine', spectra.sine],
      ['sine', spectra.sine],
      ['sine', spectra.sine],
      ['saw', spectra.saw],
      ['square', spectra.square],
      ['triangle', spectra.triangle],
    ];
    for (const [name, amplitude] of dry) {
      const f0Hz = between(45, 1200);
      const tone = harmonicTone({ f0Hz, amplitude, seconds: 2.5, envelope: held({ off: 2, release: 0.05 }) });
      const { pitch: p, motion, space, dirt, noise: n, unison } = read(tone).traits;
      const claims = [
        p.vibrato && 'vibrato',
        p.sweep && 'sweep',
        motion.length > 0 && `motion ${motion[0].cause}`,
        space.rt60Seconds !== null && 'room',
        space.echo && 'echo',
        dirt.kind !== null && dirt.kind !== 'none' && `dirt ${dirt.kind}`,
        n.levelDb !== null && 'noise',
        unison.detuneCents !== null && 'unison',
      ].filter(Boolean);
      yield check(`${name} at ${f0Hz.toFixed(0)} Hz`, 'nothing', claims.join(', ') || 'nothing', claims.length === 0);
    }
  },
};
