import { z } from 'zod';
import type { TraitGroup } from '../parameters/parameter';
import { centsBetween } from '../dsp/pitch';
import { heardLoudness } from '../reading/level/heardLoudness';
import { type Reading, type Series, seriesAt } from '../reading/schema';

export const gapSchema = z.object({
  trait: z.string(),
  group: z.string(),
  label: z.string(),
  reference: z.number().nullable(),
  proof: z.number().nullable(),
  unit: z.string(),
  gapJnd: z.number().min(0),
});

export const comparisonSchema = z.object({ overallJnd: z.number().min(0), traits: z.array(gapSchema) });

/** Distance of one trait in just-noticeable differences. */
export type Gap = z.infer<typeof gapSchema>;
export type Comparison = z.infer<typeof comparisonSchema>;

/** One trait that can be compared: where its value is in a reading, and how far two values are apart. */
interface ComparedTrait {
  trait: string;
  group: TraitGroup;
  label: string;
  unit: string;
  value: (reading: Reading) => number | null;
  /** Distance in JND; undefined when the two cannot be compared. */
  distance: (reference: Reading, proof: Reading) => number | undefined;
}

type Value = ComparedTrait['value'];

/** Distance by a rule for two values that are both there. */
const between =
  (value: Value, jnds: (a: number, b: number) => number): ComparedTrait['distance'] =>
  (reference, proof) => {
    const a = value(reference);
    const b = value(proof);
    return a === null || b === null ? undefined : Math.abs(jnds(a, b));
  };

/** A time whose JND is a fraction of itself, and never less than what a few milliseconds make. */
const ratioOfTimes = (fraction: number) => (a: number, b: number) =>
  Math.log((b + SHORT_SECONDS) / (a + SHORT_SECONDS)) / Math.log(1 + fraction);

/** Rates, and times that are heard as rates. */
const ratioOfRates = (a: number, b: number) => Math.log(b / a) / Math.log(1.04);

/** Times are compared from here up: a millisecond more or less of a two-millisecond attack is not heard. */
const SHORT_SECONDS = 0.004;

const value = {
  f0Hz: (reading: Reading) => reading.traits.pitch.f0Hz,
  attack: (reading: Reading) => reading.traits.loudness.attackSeconds,
  decay: (reading: Reading) => {
    const { sustainDb, decaySeconds } = reading.traits.loudness;
    return sustainDb !== null && sustainDb < -1 ? decaySeconds : null;
  },
  sustain: (reading: Reading) => {
    const { sustainDb } = reading.traits.loudness;
    return sustainDb === null ? null : Math.max(-40, sustainDb);
  },
  release: (reading: Reading) => reading.traits.loudness.releaseSeconds,
  centroid: (reading: Reading) => reading.traits.brightness.centroidHz,
  cutoff: (reading: Reading) => reading.traits.brightness.cutoffHz,
  oddEven: (reading: Reading) => reading.traits.partials.oddMinusEvenDb,
  tilt: (reading: Reading) => reading.traits.partials.tiltDbPerOctave,
  fall: (reading: Reading) => {
    const { sweep } = reading.traits.brightness;
    return sweep === null ? null : 12 * Math.log2(sweep.toHz / sweep.fromHz);
  },
  resonance: ({ traits: { brightness } }: Reading) => (brightness.sweep === null ? null : brightness.resonanceDb),
  vibratoRate: (reading: Reading) => reading.traits.pitch.vibrato?.rateHz ?? null,
  // What is not there has no depth.
  vibratoDepth: (reading: Reading) =>
    reading.traits.pitch.f0Hz === null ? null : (reading.traits.pitch.vibrato?.depthCents ?? 0),
  noise: ({ traits: { noise } }: Reading) => (noise.confidence > 0 ? (noise.levelDb ?? NOISE_FLOOR_DB) : null),
  detune: ({ traits: { unison } }: Reading) => (unison.confidence > 0 ? (unison.detuneCents ?? 0) : null),
  width: (reading: Reading) => {
    const { bands } = reading.traits.width;
    if (reading.channels === 1) return NARROWEST_DB;
    return bands.length > 0 ? Math.max(NARROWEST_DB, ...bands.map(({ widthDb }) => widthDb)) : null;
  },
  motionRate: (reading: Reading) => movementOf(reading)?.rateHz ?? null,
  echo: (reading: Reading) => reading.traits.space.echo?.seconds ?? null,
  room: (reading: Reading) => reading.traits.space.rt60Seconds,
};

/** Noise under this is not told from none, and sides under this are not heard. */
const NOISE_FLOOR_DB = -50;
const NARROWEST_DB = -30;

/** The movement that is surest, besides vibrato. */
function movementOf(reading: Reading) {
  const others = reading.traits.motion.filter(({ cause }) => cause !== 'vibrato');
  return others.length > 0 ? others.reduce((a, b) => (b.confidence > a.confidence ? b : a)) : undefined;
}

/** Distance when one of two has something that the other lacks: plain to hear. */
const MISSING_JND = 6;

/** Distance by a rule where both have it; where one lacks it, it is missing; where neither has it, there is nothing to compare. */
const present =
  (value: Value, jnds: (a: number, b: number) => number): ComparedTrait['distance'] =>
  (reference, proof) => {
    const [a, b] = [value(reference), value(proof)];
    if (a === null && b === null) return undefined;
    return a === null || b === null ? MISSING_JND : Math.abs(jnds(a, b));
  };

/**
 * The traits and their JNDs. Pitch 5 cents, level 1 dB, attack times 25 %, decays 20 %: Zwicker & Fastl,
 * Psychoacoustics. Partial levels 2 dB (profile analysis, Green 1988), centroid a tenth of an octave, cutoff a sixth of an
 * octave, tilt 1 dB per octave: from memory. Reverberation time 5 %: ISO 3382-1, table A.1. Rates 4 %, resonance and noise 2 dB, sides 3 dB,
 * detune 2 cents or 15 %: from memory.
 */
const comparedTraits: readonly ComparedTrait[] = [
  {
    trait: 'pitch',
    group: 'pitch',
    label: 'Pitch',
    unit: 'Hz',
    value: value.f0Hz,
    distance: between(value.f0Hz, (a, b) => centsBetween(a, b) / 5),
  },
  {
    trait: 'attack',
    group: 'loudness',
    label: 'Attack',
    unit: 's',
    value: value.attack,
    distance: between(value.attack, ratioOfTimes(0.25)),
  },
  {
    trait: 'decay',
    group: 'loudness',
    label: 'Level decay',
    unit: 's',
    value: value.decay,
    distance: between(value.decay, ratioOfTimes(0.2)),
  },
  {
    trait: 'sustain',
    group: 'loudness',
    label: 'Sustain level',
    unit: 'dB',
    value: value.sustain,
    distance: between(value.sustain, (a, b) => (a - b) / 1),
  },
  {
    trait: 'release',
    group: 'loudness',
    label: 'Release',
    unit: 's',
    value: value.release,
    distance: between(value.release, ratioOfTimes(0.25)),
  },
  {
    trait: 'levelContour',
    group: 'loudness',
    label: 'Level over time',
    unit: 'dB',
    value: () => null,
    distance: levelContourDistance,
  },
  {
    trait: 'centroid',
    group: 'brightness',
    label: 'Brightness',
    unit: 'Hz',
    value: value.centroid,
    distance: between(value.centroid, (a, b) => Math.log2(b / a) / 0.1),
  },
  {
    trait: 'cutoff',
    group: 'brightness',
    label: 'Cutoff',
    unit: 'Hz',
    value: value.cutoff,
    distance: between(value.cutoff, (a, b) => Math.log2(b / a) * 6),
  },
  {
    trait: 'brightnessFall',
    group: 'brightness',
    label: 'Brightness movement',
    unit: 'st',
    value: value.fall,
    distance: between(value.fall, (a, b) => (a - b) / 3),
  },
  {
    trait: 'brightnessContour',
    group: 'brightness',
    label: 'Brightness over time',
    unit: 'octaves',
    value: () => null,
    distance: brightnessContourDistance,
  },
  {
    trait: 'partials',
    group: 'partials',
    label: 'Partial levels',
    unit: 'dB',
    value: () => null,
    distance: partialsDistance,
  },
  {
    trait: 'oddMinusEven',
    group: 'partials',
    label: 'Odd against even',
    unit: 'dB',
    value: value.oddEven,
    distance: between(value.oddEven, (a, b) => (a - b) / 2),
  },
  {
    trait: 'tilt',
    group: 'partials',
    label: 'Partial tilt',
    unit: 'dB/oct',
    value: value.tilt,
    distance: between(value.tilt, (a, b) => a - b),
  },
  {
    trait: 'resonance',
    group: 'brightness',
    label: 'Resonance',
    unit: 'dB',
    value: value.resonance,
    distance: between(value.resonance, (a, b) => (a - b) / 2),
  },
  {
    trait: 'vibratoDepth',
    group: 'pitch',
    label: 'Vibrato depth',
    unit: 'ct',
    value: value.vibratoDepth,
    distance: between(value.vibratoDepth, (a, b) => (a - b) / Math.max(5, 0.15 * a)),
  },
  {
    trait: 'vibratoRate',
    group: 'pitch',
    label: 'Vibrato rate',
    unit: 'Hz',
    value: value.vibratoRate,
    distance: between(value.vibratoRate, ratioOfRates),
  },
  {
    trait: 'noise',
    group: 'noise',
    label: 'Noise level',
    unit: 'dB',
    value: value.noise,
    distance: between(value.noise, (a, b) => (a - b) / 2),
  },
  {
    trait: 'detune',
    group: 'width',
    label: 'Detune',
    unit: 'ct',
    value: value.detune,
    distance: between(value.detune, (a, b) => (a - b) / Math.max(2, 0.15 * a)),
  },
  {
    trait: 'width',
    group: 'width',
    label: 'Width',
    unit: 'dB',
    value: value.width,
    distance: between(value.width, (a, b) => (a - b) / 3),
  },
  {
    trait: 'motionRate',
    group: 'motion',
    label: 'Movement',
    unit: 'Hz',
    value: value.motionRate,
    distance: present(value.motionRate, ratioOfRates),
  },
  {
    trait: 'echo',
    group: 'space',
    label: 'Echo time',
    unit: 's',
    value: value.echo,
    distance: present(value.echo, ratioOfRates),
  },
  {
    trait: 'room',
    group: 'space',
    label: 'Reverberation time',
    unit: 's',
    value: value.room,
    distance: present(value.room, ratioOfTimes(0.05)),
  },
];

/** A single trait counts for at most this much in the overall figure, so that one broken reading does not drown the rest. */
const OVERALL_LIMIT_JND = 12;

/** Distances between two readings made by the same reader, largest first, and their root mean square. */
export function compareReadings(reference: Reading, proof: Reading): Comparison {
  const traits = comparedTraits.flatMap(({ trait, group, label, unit, value: valueOf, distance }): Gap[] => {
    const gapJnd = distance(reference, proof);
    if (gapJnd === undefined || !Number.isFinite(gapJnd)) return [];
    return [
      {
        trait,
        group,
        label,
        unit,
        reference: valueOf(reference),
        proof: valueOf(proof),
        gapJnd: Math.round(gapJnd * 1000) / 1000,
      },
    ];
  });
  traits.sort((a, b) => b.gapJnd - a.gapJnd);
  const squares = traits.reduce((sum, { gapJnd }) => sum + Math.min(OVERALL_LIMIT_JND, gapJnd) ** 2, 0);
  return { overallJnd: traits.length > 0 ? Math.round(Math.sqrt(squares / traits.length) * 1000) / 1000 : 0, traits };
}

const COMPARED_POINTS = 200;
const HEARD_DB = -40;

/** Pairs of values of two series at the same times, while the reference's level is within 40 dB of its top. */
function pairs(reference: Reading, proof: Reading, pick: (reading: Reading) => Series): [number, number][] {
  const level = reference.traits.loudness.contour;
  const topDb = Math.max(...level.values.map((v) => v ?? -200));
  const result: [number, number][] = [];
  for (let i = 0; i < COMPARED_POINTS; i++) {
    const seconds = (reference.durationSeconds * i) / COMPARED_POINTS;
    if ((seriesAt(level, seconds) ?? -200) < topDb + HEARD_DB) continue;
    const a = seriesAt(pick(reference), seconds);
    const b = seriesAt(pick(proof), seconds);
    if (a !== null && b !== null) result.push([a, b]);
  }
  return result;
}

/** RMS difference of the level contours at equal loudness, limited to 20 dB at any time; 1 dB is one JND. */
function levelContourDistance(reference: Reading, proof: Reading): number | undefined {
  const both = pairs(reference, proof, (reading) => reading.traits.loudness.contour);
  const lufs = heardLoudness(reference);
  const own = heardLoudness(proof);
  if (both.length < 8 || lufs === null || own === null) return undefined;
  return rms(both.map(([a, b]) => Math.max(-20, Math.min(20, a - lufs - (b - own)))));
}

/** RMS difference of the centroids in octaves; 0.15 octave of a moving centroid is one JND. */
function brightnessContourDistance(reference: Reading, proof: Reading): number | undefined {
  const both = pairs(reference, proof, (reading) => reading.traits.brightness.contour);
  return both.length < 8 ? undefined : rms(both.map(([a, b]) => Math.log2(b / a))) / 0.15;
}

const COMPARED_PARTIALS = 24;
const PARTIAL_FLOOR_DB = -60;

/** RMS difference of the partials' levels, the louder ones weighing more; 2 dB is one JND. */
function partialsDistance(reference: Reading, proof: Reading): number | undefined {
  const a = reference.traits.partials.levelsDb;
  const b = proof.traits.partials.levelsDb;
  const count = Math.min(COMPARED_PARTIALS, a.length, b.length);
  if (count === 0) return undefined;
  let sum = 0;
  let weight = 0;
  for (let i = 0; i < count; i++) {
    const left = Math.max(PARTIAL_FLOOR_DB, a[i]);
    const right = Math.max(PARTIAL_FLOOR_DB, b[i]);
    const w = 1 + Math.max(left, right) / -PARTIAL_FLOOR_DB;
    sum += w * (left - right) ** 2;
    weight += w;
  }
  return weight > 0 ? Math.sqrt(sum / weight) / 2 : undefined;
}

const rms = (values: number[]) => Math.sqrt(values.reduce((sum, x) => sum + x * x, 0) / values.length);
