/** Tones of four kinds, and changes of them in five grades each: what a distance must follow. */
import { type PhraseNote, renderPatch } from '../src/engine/render';
import { emptyPatch } from '../src/patch/defaults';
import { effectSchema } from '../src/patch/schemas/effectSchema';
import { lfoSchema, routeSchema } from '../src/patch/schemas/modulatorSchema';
import type { Lfo, Patch } from '../src/patch/schema';
import { filterSchema } from '../src/patch/schemas/shapingSchema';
import { sourceSchema } from '../src/patch/schemas/sourceSchema';
import type { Audio } from '../src/reading/audio';

export const GRADED_RATE_HZ = 32000;
const GRADED_SECONDS = 1.3;

const lfo = (id: string, rateHz: number): Lfo => lfoSchema.parse({ kind: 'lfo', id, name: id, rateHz });
const route = (from: string, moduleId: string, parameter: string, amount: number) =>
  routeSchema.parse({
    id: `${from}-${moduleId}-${parameter}`,
    from,
    to: { moduleId, parameter },
    amount,
    polarity: 'bipolar',
  });

interface Base {
  main: Record<string, unknown>;
  cutoffHz: number;
  sweepSemitones: number;
  sweepSeconds: number;
  amp: { attackSeconds: number; decaySeconds: number; sustainDb: number; releaseSeconds: number };
  midi: number;
}

/** Everything that is going to be changed is there, at rest or nearly so. */
function patchOf({ main, cutoffHz, sweepSemitones, sweepSeconds, amp }: Base): Patch {
  const patch = emptyPatch();
  const [layer] = patch.layers;
  layer.levelDb = -12;
  layer.sources = [
    sourceSchema.parse({ id: 'main', kind: 'shape', startPhaseRandom: 0, ...main }),
    sourceSchema.parse({ id: 'one', kind: 'shape', shape: 'sine', tuning: 'ratio', ratio: 5, levelDb: -40 }),
    sourceSchema.parse({ id: 'noise', kind: 'noise', levelDb: -80, into: 'past' }),
  ];
  layer.filters[0] = filterSchema.parse({
    kind: 'lowpass',
    id: 'filter-1',
    cutoffHz,
    slopeDbPerOctave: 12,
    resonanceDb: 2,
  });
  layer.amp = { ...layer.amp, ...amp };
  layer.modulators = [
    { ...layer.modulators[0], decaySeconds: sweepSeconds, sustainDb: -96 } as Patch['layers'][0]['modulators'][0],
    lfo('vibrato', 5.5),
    lfo('tremolo', 4),
  ];
  layer.routes = [
    { ...route('filter-contour', 'filter-1', 'cutoffHz', sweepSemitones), polarity: 'unipolar' },
    route('vibrato', 'layer', 'semitones', 0),
    route('tremolo', 'layer', 'levelDb', 0),
  ];
  layer.shaper.on = true;
  layer.shaper.driveDb = 0;
  layer.effects = [effectSchema.parse({ kind: 'reverb', id: 'room', mix: 0, rt60Seconds: 1, preDelaySeconds: 0 })];
  return patch;
}

export const bases: Record<string, Base> = {
  bass: {
    main: { shape: 'saw', unisonVoices: 2, unisonDetuneCents: 8 },
    cutoffHz: 300,
    sweepSemitones: 30,
    sweepSeconds: 0.25,
    amp: { attackSeconds: 0.004, decaySeconds: 0.5, sustainDb: -6, releaseSeconds: 0.08 },
    midi: 36,
  },
  pad: {
    main: { shape: 'saw', unisonVoices: 5, unisonDetuneCents: 12, unisonSpread: 30, startPhaseRandom: 100 },
    cutoffHz: 1200,
    sweepSemitones: 12,
    sweepSeconds: 0.8,
    amp: { attackSeconds: 0.15, decaySeconds: 0.5, sustainDb: -2, releaseSeconds: 0.2 },
    midi: 57,
  },
  pluck: {
    main: { shape: 'triangle', morph: 40 },
    cutoffHz: 600,
    sweepSemitones: 36,
    sweepSeconds: 0.15,
    amp: { attackSeconds: 0.002, decaySeconds: 0.9, sustainDb: -40, releaseSeconds: 0.15 },
    midi: 64,
  },
  lead: {
    main: { shape: 'pulse', pulseWidth: 30 },
    cutoffHz: 3000,
    sweepSemitones: 6,
    sweepSeconds: 0.4,
    amp: { attackSeconds: 0.02, decaySeconds: 0.3, sustainDb: -3, releaseSeconds: 0.1 },
    midi: 69,
  },
};

type Change = (patch: Patch, grade: number) => void;

const layerOf = ({ layers: [layer] }: Patch) => layer;
const routed = (patch: Patch, from: string, amount: number) => {
  for (const found of layerOf(patch).routes) if (found.from === from) found.amount = amount;
};
const filterOf = (patch: Patch) =>
  layerOf(patch).filters[0] as Extract<Patch['layers'][0]['filters'][0], { kind: 'lowpass' }>;
const mainOf = (patch: Patch) =>
  layerOf(patch).sources[0] as Extract<Patch['layers'][0]['sources'][0], { kind: 'shape' }>;

/** Grades 1 to 5, from what is hardly heard to what is plain. */
export const changes: Record<string, Change> = {
  pitch: (patch, grade) => (mainOf(patch).cents = [4, 10, 20, 40, 80][grade - 1]),
  detune: (patch, grade) => {
    const main = mainOf(patch);
    if (main.unisonVoices > 1) main.unisonDetuneCents += [4, 12, 28, 50, 80][grade - 1];
    else {
      // A second voice in the background, further away and louder.
      const cents = [6, 12, 20, 32, 50][grade - 1];
      layerOf(patch).sources.push({ ...main, id: 'second', cents, levelDb: [-20, -17, -14, -11, -8][grade - 1] });
    }
  },
  cutoff: (patch, grade) => (filterOf(patch).cutoffHz *= 2 ** [0.1, 0.25, 0.5, 1, 1.6][grade - 1]),
  resonance: (patch, grade) => (filterOf(patch).resonanceDb += [1, 3, 6, 10, 15][grade - 1]),
  filterDecay: (patch, grade) => {
    for (const modulator of layerOf(patch).modulators)
      if (modulator.kind === 'envelope') modulator.decaySeconds *= [1.2, 1.5, 2, 3, 5][grade - 1];
  },
  attack: (patch, grade) => {
    const { amp } = layerOf(patch);
    amp.attackSeconds = (amp.attackSeconds + 0.004) * [1.5, 2, 3, 5, 9][grade - 1];
  },
  release: (patch, grade) => (layerOf(patch).amp.releaseSeconds *= [1.3, 1.7, 2.5, 4, 7][grade - 1]),
  noise: (patch, grade) => (layerOf(patch).sources[2].levelDb = [-56, -48, -40, -32, -24][grade - 1]),
  drive: (patch, grade) => (layerOf(patch).shaper.driveDb = [3, 6, 10, 16, 24][grade - 1]),
  onePartial: (patch, grade) => (layerOf(patch).sources[1].levelDb = [-32, -26, -20, -14, -8][grade - 1]),
  vibrato: (patch, grade) => routed(patch, 'vibrato', [0.06, 0.12, 0.25, 0.5, 1][grade - 1]),
  tremolo: (patch, grade) => routed(patch, 'tremolo', [0.8, 1.6, 3, 5, 9][grade - 1]),
  width: (patch, grade) => {
    const [room] = layerOf(patch).effects;
    layerOf(patch).effects.unshift(
      effectSchema.parse({ kind: 'widener', id: 'wide', mix: [10, 25, 45, 70, 100][grade - 1] }),
    );
    return room;
  },
  room: (patch, grade) => (layerOf(patch).effects[0].mix = [3, 8, 16, 30, 50][grade - 1]),
};

export function printGraded(base: string, change?: string, grade = 0, seed = 1): Audio {
  const patch = patchOf(bases[base]);
  if (change && grade > 0) changes[change](patch, grade);
  const notes: PhraseNote[] = [{ onsetSeconds: 0.02, durationSeconds: 0.8, midi: bases[base].midi, velocity: 100 }];
  const channels = renderPatch({ patch, notes, sampleRateHz: GRADED_RATE_HZ, seconds: GRADED_SECONDS, seed });
  return { channels, sampleRateHz: GRADED_RATE_HZ };
}

export const GRADES = [1, 2, 3, 4, 5];
