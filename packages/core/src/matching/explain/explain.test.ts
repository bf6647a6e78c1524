import { ducking, phaser, sweeping, voices, withDelay } from '../../../test/effects';
import { evidenceOf } from '../../../test/made/evidence';
import {
  createRandom,
  driven,
  fmTone,
  formants,
  level,
  mixed,
  falling,
  hzOf,
  square,
  noise,
  shaped,
  tone,
  twoPole,
} from '../../../test/made/parts';
import { parsePatch } from '../../patch/parse';
import type { Layer } from '../../patch/schema';
import { explainFormants } from './formants';
import { explainHarmonicFm } from './harmonicFm';
import type { Evidence, Hypothesis } from './hypothesis';
import { explainNoise } from './noise';
import { patchMadeOf } from './made';
import { explainModes } from './modes';
import { noiseBand } from './noiseBand';
import { structuresOf } from './structures';
import { explainTunedNoise } from './tunedNoise';
import { some, thorough } from '../../../test/thorough';

const layerOf = (hypotheses: readonly Hypothesis[]): Layer => patchMadeOf(hypotheses).layers[0];

const namesOf = (evidence: Evidence) => structuresOf(evidence).map(({ name }) => name);
const held = level({ off: 1 });
const saw = evidenceOf(shaped(tone({ seconds: 1.2, hz: 130.8 }), held));

describe('Sines at a whole ratio', () => {
  some(1).it.each([
    [1, (t: number) => 4 * Math.exp(-t / 0.5)],
    [2, () => 1.4],
  ] as const)('are told of a modulator at %d times the note, with their index over time', (ratio, index) => {
    const evidence = evidenceOf(shaped(fmTone(1.2, 110, ratio, index), held));
    const [pair] = explainHarmonicFm(evidence);
    const { sources, interactions, routes, modulators } = layerOf([pair]);
    expect(sources.map((source) => 'ratio' in source && source.ratio)).toEqual([1, ratio]);
    const [fm] = interactions as Extract<Layer['interactions'][0], { kind: 'fm' }>[];
    const fall = routes[0]?.amount ?? 0;
    expect((fm.index + fall) / index(0)).toBeCloseTo(1, 1);
    // Envelopes count a decay as three time constants.
    for (const modulator of modulators)
      expect(modulator.kind === 'envelope' && modulator.decaySeconds / 3).toBeCloseTo(0.5, 1);
    expect(namesOf(evidence)).toContain('sines at a whole ratio');
  });

  thorough.it('are thought of also where a waveform would say as much behind a filter that was not seen', () => {
    const soft = evidenceOf(
      shaped(
        fmTone(1.2, 196, 2, () => 0.8),
        held,
      ),
    );
    expect(soft.reading.traits.brightness.cutoffHz).toBeNull();
    expect(namesOf(soft)).toContain('sines at a whole ratio');
  });

  it('are not looked for where plain sources add up to the partials', () => {
    expect(namesOf(saw)).not.toContain('sines at a whole ratio');
  });
});

describe('Partials one by one', () => {
  // Stops of an organ, the lowest of them an octave under the note.
  const STOPS: Readonly<Record<number, number>> = {
    1: 0.4,
    2: 0.5,
    4: 1,
    6: 0.1,
    7: 0.05,
    8: 0.1,
    12: 0.15,
    16: 0.3,
    20: 0.05,
    24: 0.2,
    28: 0.04,
    48: 0.1,
  };
  const organ = evidenceOf(
    shaped(
      tone({ seconds: 1.3, hz: 98, amplitude: (n) => STOPS[n] ?? 0, phase: 0.3 }),
      level({ attack: 0.05, off: 1.1 }),
    ),
  );

  thorough.it('begin with the lowest stop, and go as far up as they are heard', () => {
    const drawn = structuresOf(organ).find(({ name }) => name === 'partials one by one')!;
    const [source] = layerOf(drawn.hypotheses).sources;
    if (source.kind !== 'partials') throw new Error(`a source of the kind ${source.kind}`);
    // An octave lower for the note that a musician names.
    expect(organ.midi + source.semitones).toBe(43);
    for (const [n, amplitude] of Object.entries(STOPS))
      expect(Math.abs(source.levelsDb[Number(n) - 1] - 20 * Math.log10(amplitude))).toBeLessThan(1);
    expect(source.levelsDb.filter((db) => db > -90)).toHaveLength(Object.keys(STOPS).length);
    // Sines of so low a note begin where they were heard to.
    for (const n of [1, 2, 4, 8, 16]) {
      const off = source.phasesCycles[n - 1] - 0.3 * n;
      expect(Math.abs(off - Math.round(off))).toBeLessThan(0.05);
    }
  });

  it('of which those of the lowest stop are no noise', () => {
    expect(organ.reading.traits.noise.levelDb).toBeNull();
  });
});

describe('Resonances', () => {
  const vowel = (centres: (t: number) => readonly number[]) =>
    evidenceOf(shaped(tone({ seconds: 1.6, hz: 98, amplitude: formants(98, centres, 130) }), level({ off: 1.5 })));
  const move = (from: number, to: number) => (t: number) => from * (to / from) ** Math.min(1, t / 1);
  const [low, high] = [move(420, 740), move(1900, 1050)];

  thorough.it('are told with where they come from and go to, and when they arrive', () => {
    const [found] = explainFormants(vowel((t) => [low(t), high(t)]));
    const { effects, routes, modulators } = layerOf([found]);
    const [equalizer] = effects as Extract<Layer['effects'][0], { kind: 'equalizer' }>[];
    const ways = routes.map(({ amount }, i) => {
      const from = equalizer[`band${(i + 1) as 1 | 2}Hz`];
      return [from, from * 2 ** (amount / 12)];
    });
    const [first, second] = ways.sort((a, b) => a[0] - b[0]);
    for (const [found, wanted] of [
      [first[0], 420],
      [first[1], 740],
      [second[0], 1900],
      [second[1], 1050],
    ])
      expect(Math.abs(Math.log2(found / wanted))).toBeLessThan(0.25);
    const arrived = modulators[0].kind === 'contour' ? modulators[0].points[1].seconds : 0;
    expect(arrived).toBeGreaterThan(0.75);
    expect(arrived).toBeLessThan(1.3);
  });

  it('are not told of a saw', () => {
    expect(explainFormants(saw)).toEqual([]);
  });
});

describe('Noise beside a tone', () => {
  const breathy = (low: number, high: number) => {
    const air = noise(2, createRandom(4));
    const band = twoPole(
      twoPole(air, 'low', () => high, 0.7),
      'high',
      () => low,
      0.7,
    );
    const body = tone({ seconds: 2, hz: 220 });
    return evidenceOf(
      shaped(
        mixed(
          body,
          band.map((x) => 0.12 * x),
        ),
        level({ off: 1.9 }),
      ),
    );
  };

  it('reaches over the whole width where it is white', () => {
    const { partials } = breathy(20, 20000).note;
    const { highHz, ...rest } = noiseBand(partials!, 0.1, 1.8)!;
    expect(rest).toMatchObject({ lowHz: 20, slopeDbPerOctave: 0 });
    // Single bands of noise come out a little softer or louder.
    expect(highHz).toBeGreaterThan(19000);
  });

  thorough.it('has the edges of a band within an octave', () => {
    const { partials } = breathy(1500, 6000).note;
    const { lowHz, highHz } = noiseBand(partials!, 0.1, 1.8)!;
    expect(Math.abs(Math.log2(lowHz / 1500))).toBeLessThan(1);
    expect(Math.abs(Math.log2(highHz / 6000))).toBeLessThan(1);
  });

  thorough.it('is a source past the filters, and none of a saw', () => {
    const [source] = layerOf(explainNoise(breathy(20, 20000))).sources;
    expect(source).toMatchObject({ kind: 'noise', into: 'past' });
    expect(explainNoise(saw)).toEqual([]);
  });
});

describe('Structures that exclude one another', () => {
  thorough.it('are a sine into a curve where a tone grows plainer as it falls', () => {
    const body = shaped(tone({ seconds: 1.4, hz: 73, amplitude: (n) => (n === 1 ? 1 : 0) }), level({ sustain: 0 }));
    expect(namesOf(evidenceOf(driven(body, (x) => Math.sin(5 * x))))).toContain('a sine into a curve');
  });

  thorough.it('are one fall where what dies first is not the end of the note', () => {
    const bite = shaped(tone({ seconds: 1, hz: 185 }), level({ attack: 0.001, decay: 0.03, sustain: 0 }));
    const sine = tone({ seconds: 1, hz: 185, amplitude: (n) => (n === 1 ? 1 : 0) });
    const pluck = mixed(
      shaped(sine, level({ decay: 0.2, sustain: 0 })),
      bite.map((x) => 0.5 * x),
    );
    const fall = structuresOf(evidenceOf(pluck)).find(({ name }) => name === 'one fall')!;
    const { amp } = layerOf(fall.hypotheses);
    expect(amp.sustainDb).toBeLessThan(-90);
    expect(amp.decaySeconds / 3).toBeCloseTo(0.2, 1);
  });

  it('are one of a plain saw', () => {
    expect(namesOf(saw)).toEqual(['sources and filter']);
  });
});

describe('One sine', () => {
  const pluck = (amplitude: (n: number) => number) =>
    evidenceOf(
      shaped(
        tone({ seconds: 1, hz: 220, amplitude, semitones: (t) => 24 * Math.exp(-t / 0.012) }),
        level({ attack: 0.001, decay: 0.15, sustain: 0 }),
      ),
    );

  thorough.it('is thought of where only the start, which a falling pitch smears, has more', () => {
    expect(namesOf(pluck((n) => (n === 1 ? 1 : 0)))).toContain('one sine');
    expect(namesOf(pluck((n) => 1 / n))).not.toContain('one sine');
  });
});

thorough.it('behind a push into a curve the level stays', () => {
  const falling = shaped(
    tone({ seconds: 1.4, hz: 82.4, amplitude: (n) => (n === 1 ? 1 : 0) }),
    level({ decay: 0.3, sustain: 0.1, off: 1.2 }),
  );
  const bent = structuresOf(evidenceOf(driven(falling, (x) => Math.sin(4 * x)))).find(({ hypotheses }) =>
    hypotheses.some(({ name }) => name === 'push'),
  )!;
  expect(layerOf(bent.hypotheses).amp.sustainDb).toBe(0);
});

describe('A resonance into a curve', () => {
  const line = twoPole(tone({ seconds: 1, hz: hzOf(40), amplitude: square }), 'low', falling(2000, 400, 0.12), 6);

  thorough.it('is thought of behind a low-pass: peaks alone come to the curve, and the fall begins at once', () => {
    const bent = structuresOf(
      evidenceOf(
        shaped(
          driven(line, (x) => Math.tanh(0.8 * x)),
          held,
        ),
      ),
    ).find(({ name }) => name === 'a resonance into a curve')!;
    const { filters, shaper, sources, modulators } = layerOf(bent.hypotheses);
    expect(filters[0]).toMatchObject({ on: true, kind: 'lowpass' });
    expect('resonanceDb' in filters[0] && filters[0].resonanceDb).toBeGreaterThan(10);
    expect(shaper).toMatchObject({ on: true, curve: 'soft' });
    // What is left of the drive where the filter lifts nothing keeps to the straight part of the curve.
    for (const { levelDb } of sources) expect(levelDb + shaper.driveDb).toBeLessThan(0);
    for (const modulator of modulators) if (modulator.kind === 'envelope') expect(modulator.holdSeconds).toBe(0);
  });

  it('is none where no filter is heard', () => {
    expect(namesOf(saw)).not.toContain('a resonance into a curve');
  });
});

describe('Sines that die away one by one', () => {
  /** A bar that is free at both ends: Fletcher & Rossing, The Physics of Musical Instruments, 2.15. */
  const BAR = [1, 2.756, 5.404];
  const FALLS_DB = [30, 60, 120];
  const struck = BAR.map((ratio, i) =>
    shaped(
      tone({ seconds: 1.2, hz: 330 * ratio, amplitude: (n) => (n === 1 ? 0.5 ** i : 0) }),
      (t) => Math.min(1, t / 0.002) * 10 ** ((-FALLS_DB[i] * t) / 20),
    ),
  );

  it('are told of a struck bar, each with its interval, level and time', () => {
    const modes = structuresOf(evidenceOf(mixed(...struck))).find(
      ({ name }) => name === 'sines that die away one by one',
    )!;
    const { sources, modulators, routes } = layerOf(modes.hypotheses);
    expect(sources).toHaveLength(BAR.length);
    sources.forEach((source, i) => {
      if (source.kind !== 'shape') throw new Error(`A sine is a plain shape, not a ${source.kind}.`);
      const semitones = 64 + source.semitones + source.cents / 100;
      expect(Math.abs(semitones - 64 - 12 * Math.log2((330 * BAR[i]) / hzOf(64)))).toBeLessThan(0.1);
      expect(Math.abs(source.levelDb + 6 * i)).toBeLessThan(1);
      const own = modulators.find(({ id }) => id === routes[i].from)!;
      // A decay is three time constants, which are 8.7 dB each.
      expect(own.kind === 'envelope' && (3 * 8.686) / own.decaySeconds / FALLS_DB[i]).toBeCloseTo(1, 1);
    });
  });

  thorough.it('are told as far as intervals go, and no more where a mode lies over that', () => {
    const evidence = evidenceOf(mixed(...struck));
    // The same body as a part of a note that is four octaves lower.
    const deep = { ...evidence, midi: evidence.midi - 48 };
    const sources = layerOf(explainModes(deep)).sources.map((source) => 'semitones' in source && source.semitones);
    expect(sources).toEqual([48, 66]);
  });

  it('are none of a string, whose lines stand at the multiples of its pitch', () => {
    const string = shaped(tone({ seconds: 1.2, hz: 330 }), (t) => Math.exp(-4 * t));
    expect(namesOf(evidenceOf(string))).not.toContain('sines that die away one by one');
  });

  thorough.it('are none of what goes on', () => {
    const organ = mixed(
      ...BAR.map((ratio) => tone({ seconds: 1.2, hz: 330 * ratio, amplitude: (n) => (n === 1 ? 0.3 : 0) })),
    );
    expect(namesOf(evidenceOf(shaped(organ, held)))).not.toContain('sines that die away one by one');
  });
});

describe('The width of a pulse that goes round', () => {
  const width = (t: number) => 0.3 + 0.1 * Math.sin(2 * Math.PI * (1.6 * t + 0.25));
  const moved = tone({ seconds: 2.2, hz: 110, amplitude: (n, t) => Math.sin(Math.PI * n * width(t)) / n });
  const [first, ...others] = structuresOf(evidenceOf(shaped(moved, level({ off: 2 }))));

  it('is an LFO to the width of one source, around its middle and from where it begins', () => {
    const { sources, modulators, routes } = layerOf(first.hypotheses);
    expect(sources).toHaveLength(1);
    expect(sources[0]).toMatchObject({ kind: 'shape', shape: 'pulse' });
    const [lfo] = modulators.filter(({ kind }) => kind === 'lfo');
    const [route] = routes.filter(({ from }) => from === lfo.id);
    expect(route.to).toEqual({ moduleId: sources[0].id, parameter: 'pulseWidth' });
    expect('pulseWidth' in sources[0] && sources[0].pulseWidth).toBeCloseTo(30, 0);
    expect(Math.abs(route.amount - 10)).toBeLessThan(1);
    expect(lfo.kind === 'lfo' && lfo.rateHz).toBeCloseTo(1.6, 1);
    expect(lfo.kind === 'lfo' && lfo.startPhaseCycles).toBeCloseTo(0.25, 1);
  });

  it('is left out where partials are set one by one, which have no width', () => {
    const drawn = others.find(({ name }) => name === 'partials one by one')!;
    expect(drawn.hypotheses.map(({ name }) => name)).not.toContain('pulse width going round');
    for (const { hypotheses } of others) expect(() => parsePatch(patchMadeOf(hypotheses))).not.toThrow();
  });
});

thorough.it('a slide from note to note is a glide of the voice, and no slide of every note', () => {
  const line = tone({ seconds: 1.5, hz: 155.6, semitones: (t) => 7 * Math.min(1, Math.max(0, (t - 0.7) / 0.08)) });
  const evidence = evidenceOf(shaped(line, level({ off: 1.3 })));
  expect(evidence.notes).toHaveLength(2);
  const [{ hypotheses }] = structuresOf(evidence);
  const { voice, routes } = layerOf(hypotheses);
  expect(voice).toMatchObject({ mode: 'legato', glide: 'overlap' });
  expect(Math.abs(voice.glideSeconds / 0.08 - 1)).toBeLessThan(0.1);
  expect(routes.filter(({ to }) => to.parameter === 'semitones')).toEqual([]);
});

describe('A movement of notches', () => {
  const dry = voices({ f0Hz: 110, seconds: 4 });

  it('is a chorus of one late copy that swings as it was read', () => {
    const late = withDelay(dry, (t) => 0.018 + 0.003 * Math.sin(2 * Math.PI * 0.6 * t), 0.7);
    const [effect] = layerOf(structuresOf(evidenceOf(late))[0].hypotheses).effects;
    if (effect.kind !== 'chorus') throw new Error(`A late copy is a chorus, not a ${effect.kind}.`);
    // From its delay upwards: 15 to 21 ms.
    expect(effect).toMatchObject({ voices: 1, width: 0 });
    expect(effect.rateHz).toBeCloseTo(0.6, 1);
    expect(effect.delaySeconds).toBeCloseTo(0.015, 3);
    expect(effect.depthSeconds).toBeCloseTo(0.006, 3);
  });

  thorough.it('is a phaser whose corner goes round what was read', () => {
    const [effect] = layerOf(structuresOf(evidenceOf(phaser(dry, sweeping(300, 2400, 1.1), 4)))[0].hypotheses).effects;
    if (effect.kind !== 'phaser') throw new Error(`Notches that move are a phaser, not a ${effect.kind}.`);
    expect(Math.abs(Math.log2(effect.centreHz / Math.sqrt(300 * 2400)))).toBeLessThan(0.1);
    expect(Math.abs(effect.depthOctaves - 3)).toBeLessThan(0.2);
  });

  thorough.it('is a standing one that an LFO moves from where it begins, where few turns are heard', () => {
    const [{ hypotheses }] = structuresOf(evidenceOf(phaser(dry, sweeping(250, 1000, 0.3), 4)));
    const { effects, modulators, routes } = layerOf(hypotheses);
    const [effect] = effects;
    if (effect.kind !== 'phaser') throw new Error(`Notches that move are a phaser, not a ${effect.kind}.`);
    expect(effect.depthOctaves).toBe(0);
    expect(Math.abs(Math.log2(effect.centreHz / 500))).toBeLessThan(0.1);
    const [lfo] = modulators.filter(({ kind }) => kind === 'lfo');
    if (lfo.kind !== 'lfo') throw new Error('An LFO moves it.');
    expect(lfo.rateHz).toBeCloseTo(0.3, 2);
    expect(Math.cos(2 * Math.PI * lfo.startPhaseCycles)).toBeGreaterThan(0.95);
    const [{ to, amount }] = routes.filter(({ from }) => from === lfo.id);
    expect(to).toEqual({ moduleId: effect.id, parameter: 'centreHz' });
    expect(Math.abs(amount - 12)).toBeLessThan(1);
  });

  thorough.it('is a filter of one notch that an LFO moves, and what it took away was there', () => {
    const way = sweeping(330, 1320, 0.4);
    const amplitude = (n: number, t: number) => {
      const x = (110 * n) / way(t);
      return Math.abs(1 - x * x) / Math.hypot(1 - x * x, x) / n / Math.hypot(1, (110 * n) / 1500);
    };
    const evidence = evidenceOf(voices({ f0Hz: 110, seconds: 4, amplitude }));
    expect(evidence.note.reading.traits.sources.errorDb).toBeLessThan(1);
    const { filters, modulators, routes } = layerOf(structuresOf(evidence)[0].hypotheses);
    if (filters[1].kind !== 'notch') throw new Error(`One notch is a filter of one, not a ${filters[1].kind}.`);
    expect(Math.abs(Math.log2(filters[1].cutoffHz / 660))).toBeLessThan(0.1);
    const [lfo] = modulators.filter(({ kind }) => kind === 'lfo');
    expect(lfo).toMatchObject({ rateHz: expect.closeTo(0.4, 1) });
    const [{ to, amount }] = routes.filter(({ from }) => from === lfo.id);
    expect(to).toEqual({ moduleId: 'filter-2', parameter: 'cutoffHz' });
    expect(Math.abs(amount - 12)).toBeLessThan(1.5);
  });
});

thorough.it('ducking of lows alone is a shelf that an LFO moves', () => {
  const gain = ducking(2, 12);
  const amplitude = (n: number, t: number) => {
    const low = 1 / (1 + ((110 * n) / 500) ** 4);
    return (low * gain(t) + 1 - low) / n;
  };
  const [{ hypotheses }] = structuresOf(evidenceOf(voices({ f0Hz: 110, seconds: 4, amplitude })));
  const { effects, modulators, routes } = layerOf(hypotheses);
  const [shelf] = effects;
  if (shelf.kind !== 'equalizer') throw new Error(`Lows are moved by a shelf, not by a ${shelf.kind}.`);
  expect(shelf.bands[0].kind).toBe('lowShelf');
  expect(Math.abs(Math.log2(shelf.band1Hz / 500))).toBeLessThan(0.3);
  const [lfo] = modulators.filter(({ kind }) => kind === 'lfo');
  expect(lfo).toMatchObject({ shape: 'rising', rateHz: expect.closeTo(2, 1) });
  const [{ to, amount }] = routes.filter(({ from }) => from === lfo.id);
  expect(to).toEqual({ moduleId: shelf.id, parameter: 'band1Db' });
  // From its middle to either side, up to where nothing is taken away.
  expect(Math.abs(amount - 6)).toBeLessThan(1);
  expect(shelf.band1Db).toBeCloseTo(-amount, 1);
});

describe('Noise through a band-pass that follows the note', () => {
  const tuned = (midi: number, q: number, seed: number) =>
    shaped(
      twoPole(noise(0.8, createRandom(seed)), 'band', () => hzOf(midi), q),
      level({ attack: 0.01, off: 0.7 }),
    );

  thorough.it.each([
    [69, 60, 1],
    [57, 25, 2],
    [64, 40, 3],
  ])('is told of note %d, with about its width (Q %d)', (midi, q, seed) => {
    const evidence = evidenceOf(tuned(midi, q, seed));
    expect(namesOf(evidence)).toContain('noise through a tuned band-pass');
    const { sources, filters } = layerOf(explainTunedNoise(evidence));
    expect(sources.map(({ kind }) => kind)).toEqual(['noise']);
    expect(filters[0]).toMatchObject({ kind: 'bandpass', keyTracking: 100 });
    // So short a noise tells its width within a factor of two; Q is 3 dB under the resonance.
    const { resonanceDb } = filters[0] as Extract<Layer['filters'][0], { kind: 'bandpass' }>;
    expect(Math.abs(resonanceDb - 3 - 20 * Math.log10(q))).toBeLessThan(6);
  });

  const sine = (n: number) => (n === 1 ? 1 : 0);
  some(2).it.each([
    ['a sine', shaped(tone({ seconds: 1, hz: 220, amplitude: sine }), held)],
    ['a sine pluck', shaped(tone({ seconds: 1, hz: 220, amplitude: sine }), level({ decay: 0.15, sustain: 0 }))],
    ['a slow sine', shaped(tone({ seconds: 1.2, hz: 147, amplitude: sine }), level({ attack: 0.5, off: 1 }))],
    [
      'a sine whose pitch swings',
      shaped(tone({ seconds: 1.2, hz: 330, amplitude: sine, semitones: (t) => 0.3 * Math.sin(35 * t) }), held),
    ],
    [
      'a sine whose level swings',
      shaped(tone({ seconds: 1.2, hz: 330, amplitude: sine }), (t) => 0.6 + 0.4 * Math.sin(30 * t)),
    ],
    [
      'two sines that beat',
      mixed(...[330, 334].map((hz) => shaped(tone({ seconds: 1.2, hz, amplitude: sine }), held))),
    ],
  ])('is not told of %s', (_, signal) => {
    expect(explainTunedNoise(evidenceOf(signal))).toEqual([]);
  });
});
