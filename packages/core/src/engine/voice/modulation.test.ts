import { lfo, plainPatch, route, sourcePatch } from '../../../test/patches';
import { amplitudeAt, decibels, hzAt as measuredHz } from '../../../test/signals';
import { envelopeSchema, noteValueSchema } from '../../patch/schemas/modulatorSchema';
import { type Modulator, type Patch, type Route, macroSchema } from '../../patch/schema';
import { centsBetween } from '../../dsp/pitch';
import { bendThrough, compileLfo, shapeAt } from '../modulators/lfo';
import { renderPatch } from '../render';

const RATE = 44100;

interface Played {
  seconds?: number;
  midi?: number;
  velocity?: number;
  off?: number;
}

function play(patch: Patch, { seconds = 1, midi = 69, velocity = 100, off = 60 }: Played = {}): Float32Array {
  const notes = [{ onsetSeconds: 0, durationSeconds: off, midi, velocity }];
  return renderPatch({ patch, notes, sampleRateHz: RATE, seconds })[0];
}

/** A plain sine with modulators and routes. */
function moved(modulators: Modulator[], routes: Route[], fields: Record<string, unknown> = {}): Patch {
  const patch = plainPatch('sine', fields);
  patch.layers[0].modulators = modulators;
  patch.layers[0].routes = routes;
  return patch;
}

const hzAt = (signal: Float32Array, seconds: number) => measuredHz(signal, RATE, seconds);

const peakDb = (signal: Float32Array, seconds: number) => {
  const from = Math.round(seconds * RATE);
  return decibels(Math.max(...signal.subarray(from, from + RATE / 100).map(Math.abs)));
};

describe('A route counts in the unit of its target', () => {
  const square = lfo('lfo', { shape: 'square', rateHz: 1 });

  it('semitones of pitch, unipolar: from the note up', () => {
    const signal = play(moved([square], [route('lfo', 'source-1', 'semitones', 7)]));
    expect(centsBetween(440, hzAt(signal, 0.25))).toBeCloseTo(700, 0);
    expect(centsBetween(440, hzAt(signal, 0.75))).toBeCloseTo(0, 0);
  });

  it('semitones of pitch, bipolar: either way', () => {
    const signal = play(moved([square], [route('lfo', 'source-1', 'semitones', 7, { polarity: 'bipolar' })]));
    expect(centsBetween(440, hzAt(signal, 0.25))).toBeCloseTo(700, 0);
    expect(centsBetween(440, hzAt(signal, 0.75))).toBeCloseTo(-700, 0);
  });

  it('dB of level', () => {
    const signal = play(moved([square], [route('lfo', 'source-1', 'levelDb', -12)]));
    expect(peakDb(signal, 0.25)).toBeCloseTo(-12, 1);
    expect(peakDb(signal, 0.75)).toBeCloseTo(0, 1);
  });

  it('semitones of cutoff: 24 of them move a low-pass by two octaves', () => {
    const at = (amount: number, cutoffHz: number) => {
      const patch = moved([square], [route('lfo', 'filter-1', 'cutoffHz', amount)]);
      Object.assign(patch.layers[0].filters[0], { on: true, cutoffHz });
      return peakDb(play(patch), 0.25);
    };
    expect(at(24, 220)).toBeCloseTo(at(0, 880), 2);
  });
});

describe('LFO', () => {
  it('has its rate in Hz, or a division at the tempo', () => {
    // 1/16 at 130 BPM is 0.1154 s (arithmetic).
    for (const [fields, seconds] of [
      [{ rateHz: 5 }, 0.2],
      [{ division: '1/16' }, 0.1154],
    ] as const) {
      const patch = moved([lfo('lfo', { shape: 'falling', ...fields })], [route('lfo', 'source-1', 'levelDb', 30)]);
      patch.bpm = 130;
      patch.layers[0].levelDb = -30;
      const signal = play(patch);
      // The level jumps up at the start of every turn.
      for (const turn of [1, 2, 4]) {
        expect(peakDb(signal, turn * seconds + 0.003) - peakDb(signal, turn * seconds - 0.013)).toBeGreaterThan(15);
      }
    }
  });

  it('fades in after its delay', () => {
    const vibrato = lfo('lfo', { shape: 'square', rateHz: 0.1, delaySeconds: 0.3, fadeInSeconds: 0.4 });
    const signal = play(moved([vibrato], [route('lfo', 'source-1', 'semitones', 4)]), { seconds: 1 });
    const cents = (seconds: number) => centsBetween(440, hzAt(signal, seconds));
    expect(cents(0.2)).toBeCloseTo(0, 0);
    expect(cents(0.5)).toBeCloseTo(200, -1);
    expect(cents(0.9)).toBeCloseTo(400, 0);
  });

  it('runs once, as drawn, and stays at its end', () => {
    const drawn = lfo('lfo', {
      shape: 'drawn',
      run: 'oneShot',
      rateHz: 2,
      points: [
        { at: 0, value: 0 },
        { at: 0.98, value: 1 },
        { at: 1, value: 1 },
      ],
    });
    const signal = play(moved([drawn], [route('lfo', 'source-1', 'semitones', 12)]));
    expect(centsBetween(440, hzAt(signal, 0.245))).toBeCloseTo(600, -1.5);
    expect(centsBetween(440, hzAt(signal, 0.9))).toBeCloseTo(1200, 0);
  });

  it('the bend of a drawn stretch can be told from its middle', () => {
    for (const bend of [-100, -30, 0, 45, 100]) {
      const drawn = lfo('lfo', {
        shape: 'drawn',
        points: [
          { at: 0, value: 0, bend },
          { at: 1, value: 1 },
        ],
      });
      const program = compileLfo(drawn, 120, {
        rateHz: 0,
        startPhaseCycles: 0,
        delaySeconds: 0,
        fadeInSeconds: 0,
        smoothing: 0,
      });
      expect(100 * bendThrough(shapeAt(program, 0.5, 1))).toBeCloseTo(bend, 6);
    }
    expect([bendThrough(0.001), bendThrough(0.999)]).toEqual([1, -1]);
  });

  it('restarts with the note at its start phase, or runs on between notes', () => {
    for (const restart of ['note', 'free'] as const) {
      const square = lfo('lfo', { shape: 'square', rateHz: 1, startPhaseCycles: 0.5, restart });
      const patch = moved([square], [route('lfo', 'source-1', 'semitones', 12)]);
      const notes = [{ onsetSeconds: 0.5, durationSeconds: 1, midi: 69, velocity: 100 }];
      const [signal] = renderPatch({ patch, notes, sampleRateHz: RATE, seconds: 1 });
      expect(centsBetween(440, hzAt(signal, 0.7))).toBeCloseTo(restart === 'note' ? 0 : 1200, 0);
    }
  });

  it('can be moved in rate by another modulator, and a route’s amount by a third', () => {
    const slow = lfo('slow', { shape: 'square', rateHz: 0.1 });
    const fast = lfo('fast', { shape: 'rising', rateHz: 1 });
    const routes = [
      route('slow', 'fast', 'rateHz', 2),
      route('fast', 'source-1', 'semitones', 0),
      route('slow', 'fast-source-1-semitones', 'amount', 12),
    ];
    const signal = play(moved([slow, fast], routes), { seconds: 0.6 });
    // Two octaves faster: the first turn is over after a quarter of a second, and it rises over twelve
    // semitones.
    expect(centsBetween(440, hzAt(signal, 0.125))).toBeCloseTo(600, -2);
    expect(centsBetween(440, hzAt(signal, 0.375))).toBeCloseTo(600, -2);
    expect(centsBetween(440, hzAt(signal, 0.23))).toBeGreaterThan(1000);
  });
});

describe('Values that a note brings', () => {
  const value = (of: string, fields = {}) => noteValueSchema.parse({ kind: 'note', id: 'v', name: 'v', of, ...fields });
  const cents = (patch: Patch, played: Played) => centsBetween(440, hzAt(play(patch, played), 0.2));

  it('velocity: 0 to 127 over the amount', () => {
    const patch = moved([value('velocity')], [route('v', 'source-1', 'semitones', 12)]);
    expect(cents(patch, { velocity: 127 })).toBeCloseTo(1200, 0);
    expect(cents(patch, { velocity: 64 })).toBeCloseTo((1200 * 64) / 127, 0);
  });

  it('velocity can set an attack, read when the note starts', () => {
    const patch = moved([value('velocity')], [route('v', 'amp', 'attackSeconds', -0.4)]);
    patch.layers[0].amp.attackSeconds = 0.4;
    patch.layers[0].velocitySensitivity = 0;
    expect(peakDb(play(patch, { velocity: 127 }), 0.02)).toBeCloseTo(0, 1);
    expect(peakDb(play(patch, { velocity: 1 }), 0.195)).toBeCloseTo(-6, 0);
  });

  it('random: another for every note, the same for every render', () => {
    const patch = moved([value('random')], [route('v', 'source-1', 'semitones', 12, { polarity: 'bipolar' })]);
    const notes = [0, 0.5].map((onsetSeconds) => ({ onsetSeconds, durationSeconds: 0.4, midi: 69, velocity: 100 }));
    const render = () => renderPatch({ patch, notes, sampleRateHz: RATE, seconds: 1 })[0];
    expect(render()).toEqual(render());
    expect(Math.abs(centsBetween(hzAt(render(), 0.2), hzAt(render(), 0.7)))).toBeGreaterThan(10);
  });

  it('counter: goes round in steps', () => {
    const patch = moved([value('counter', { cycle: 3 })], [route('v', 'source-1', 'semitones', 12)]);
    const notes = [0, 1, 2, 3].map((i) => ({ onsetSeconds: i / 4, durationSeconds: 0.24, midi: 69, velocity: 100 }));
    const [signal] = renderPatch({ patch, notes, sampleRateHz: RATE, seconds: 1 });
    [0, 600, 1200, 0].forEach((expected, i) =>
      expect(centsBetween(440, hzAt(signal, i / 4 + 0.12))).toBeCloseTo(expected, 0),
    );
  });

  it('the place among unison voices spreads them', () => {
    const patch = moved([value('unison')], [route('v', 'source-1', 'semitones', 1, { polarity: 'bipolar' })], {
      unisonVoices: 2,
    });
    const signal = play(patch);
    for (const step of [-1, 1]) expect(amplitudeAt(signal, RATE, 440 * 2 ** (step / 12))).toBeGreaterThan(0.5);
    expect(amplitudeAt(signal, RATE, 440)).toBeLessThan(0.02);
  });

  it('a macro of the patch moves what is routed from it', () => {
    const patch = moved([], [route('macro', 'source-1', 'semitones', 12)]);
    patch.macros = [macroSchema.parse({ id: 'macro', name: 'Lift', value: 25 })];
    expect(cents(patch, {})).toBeCloseTo(300, 0);
  });
});

describe('Envelopes', () => {
  it('loop while the note is held', () => {
    const env = envelopeSchema.parse({
      kind: 'envelope',
      id: 'env',
      name: 'env',
      loop: true,
      attackSeconds: 0,
      holdSeconds: 0.1,
      decaySeconds: 0.1,
      decayCurve: 0,
      sustainDb: -96,
    });
    const signal = play(moved([env], [route('env', 'source-1', 'semitones', 12)]));
    for (const turn of [0, 2, 4]) {
      expect(centsBetween(440, hzAt(signal, 0.2 * turn + 0.05))).toBeCloseTo(1200, 0);
      expect(centsBetween(440, hzAt(signal, 0.2 * turn + 0.15))).toBeCloseTo(600, -1.5);
    }
  });

  it('a pitch snap of 5 ms is over in time: short steps after the start', () => {
    const snap = envelopeSchema.parse({
      kind: 'envelope',
      id: 'env',
      name: 'env',
      attackSeconds: 0,
      decaySeconds: 0.005,
      decayCurve: 0,
      sustainDb: -96,
    });
    const signal = play(moved([snap], [route('env', 'source-1', 'semitones', 48)]), { midi: 69 });
    expect(centsBetween(440, hzAt(signal, 0.03))).toBeCloseTo(0, 0);
    // The cycles that pass in the snap: ∫ 440·2^(4·(1 − t/T)) dt = 440·T·(2⁴ − 1)/(4·ln 2) = 11.9.
    let crossings = 0;
    for (let i = 1; i < 0.005 * RATE; i++) if (signal[i - 1] < 0 && signal[i] >= 0) crossings++;
    expect(crossings).toBeGreaterThanOrEqual(11);
    expect(crossings).toBeLessThanOrEqual(12);
  });
});

it('key tracking of 100 % keeps a filter at the same partial, of 0 % at the same frequency', () => {
  const level = (midi: number, keyTracking: number) => {
    const patch = sourcePatch({ kind: 'shape', shape: 'sine' });
    Object.assign(patch.layers[0].filters[0], { on: true, cutoffHz: 261.6, keyTracking });
    return peakDb(play(patch, { midi }), 0.5);
  };
  expect(level(84, 100)).toBeCloseTo(level(60, 100), 1);
  expect(level(84, 0)).toBeLessThan(level(60, 0) - 40);
});
