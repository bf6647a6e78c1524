import { evidenceOf } from '../../../test/made/evidence';
import {
  createRandom,
  driven,
  fmTone,
  formants,
  level,
  mixed,
  noise,
  shaped,
  tone,
  twoPole,
} from '../../../test/made/parts';
import { emptyLayer, emptyPatch } from '../../patch/defaults';
import type { Layer } from '../../patch/schema';
import { explainFormants } from './formants';
import { explainHarmonicFm } from './harmonicFm';
import type { Evidence, Hypothesis } from './hypothesis';
import { explainNoise } from './noise';
import { noiseBand } from './noiseBand';
import { structuresOf } from './structures';

/** Nothing but what the hypotheses bring. */
function layerOf(hypotheses: readonly Hypothesis[]): Layer {
  const layer = { ...emptyLayer(), sources: [], modulators: [], routes: [] };
  for (const { apply } of hypotheses) apply(layer, emptyPatch());
  return layer;
}

const namesOf = (evidence: Evidence) => structuresOf(evidence).map(({ name }) => name);
const held = level({ off: 1 });
const saw = evidenceOf(shaped(tone({ seconds: 1.2, hz: 130.8 }), held));

describe('Sines at a whole ratio', () => {
  it.each([
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

  it('are not looked for where plain sources add up to the partials', () => {
    expect(namesOf(saw)).not.toContain('sines at a whole ratio');
  });
});

describe('Resonances', () => {
  const vowel = (centres: (t: number) => readonly number[]) =>
    evidenceOf(shaped(tone({ seconds: 1.6, hz: 98, amplitude: formants(98, centres, 130) }), level({ off: 1.5 })));
  const move = (from: number, to: number) => (t: number) => from * (to / from) ** Math.min(1, t / 1);
  const [low, high] = [move(420, 740), move(1900, 1050)];

  it('are told with where they come from and go to, and when they arrive', () => {
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

  it('has the edges of a band within an octave', () => {
    const { partials } = breathy(1500, 6000).note;
    const { lowHz, highHz } = noiseBand(partials!, 0.1, 1.8)!;
    expect(Math.abs(Math.log2(lowHz / 1500))).toBeLessThan(1);
    expect(Math.abs(Math.log2(highHz / 6000))).toBeLessThan(1);
  });

  it('is a source past the filters, and none of a saw', () => {
    const [source] = layerOf(explainNoise(breathy(20, 20000))).sources;
    expect(source).toMatchObject({ kind: 'noise', into: 'past' });
    expect(explainNoise(saw)).toEqual([]);
  });
});

describe('Structures that exclude one another', () => {
  it('are a sine into a curve where a tone grows plainer as it falls', () => {
    const body = shaped(tone({ seconds: 1.4, hz: 73, amplitude: (n) => (n === 1 ? 1 : 0) }), level({ sustain: 0 }));
    expect(namesOf(evidenceOf(driven(body, (x) => Math.sin(5 * x))))).toContain('a sine into a curve');
  });

  it('are one fall where what dies first is not the end of the note', () => {
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

  it('is thought of where only the start, which a falling pitch smears, has more', () => {
    expect(namesOf(pluck((n) => (n === 1 ? 1 : 0)))).toContain('one sine');
    expect(namesOf(pluck((n) => 1 / n))).not.toContain('one sine');
  });
});

it('behind a push into a curve the level stays', () => {
  const falling = shaped(
    tone({ seconds: 1.4, hz: 82.4, amplitude: (n) => (n === 1 ? 1 : 0) }),
    level({ decay: 0.3, sustain: 0.1, off: 1.2 }),
  );
  const bent = structuresOf(evidenceOf(driven(falling, (x) => Math.sin(4 * x)))).find(({ hypotheses }) =>
    hypotheses.some(({ name }) => name === 'push'),
  )!;
  expect(layerOf(bent.hypotheses).amp.sustainDb).toBe(0);
});
