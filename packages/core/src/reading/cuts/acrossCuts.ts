import type { Reading } from '../schema';
import { fitLine, mean } from '../statistics';

/** What several notes of one tone tell together: what follows the key, and what differs from note to note. */
export interface AcrossCuts {
  /** Readings of one note with a pitch, which this is told from. */
  noteCount: number;
  /** How far they are apart, octaves. */
  rangeOctaves: number;
  /** How much of the key the filter's cutoff follows, %; null where it cannot be told. */
  keyTrackingPercent: number | null;
  /** Level per octave of the key, dB, and how far notes stand from that line (standard deviation). */
  levelPerOctaveDb: number | null;
  levelScatterDb: number | null;
  /** Traits that differ between notes of one pitch by more than is just noticeable. */
  varying: Varying[];
}

export interface Varying {
  trait: 'level' | 'attack' | 'brightness' | 'tuning';
  /** Standard deviation, in `unit`. */
  scatter: number;
  unit: 'dB' | '%' | 'octaves' | 'ct';
}

/** Less of a range does not tell a slope. */
const LEAST_OCTAVES = 0.4;
const SAME_SEMITONES = 0.5;
/** What is just noticeable (Zwicker & Fastl, as in the gaps). */
const JUST_NOTICEABLE: Record<Varying['trait'], number> = { level: 1, attack: 25, brightness: 0.1, tuning: 5 };

/** Traits across readings of single notes; others are left out. */
export function traitsAcross(readings: readonly Reading[]): AcrossCuts {
  const notes = readings.filter(({ notes: found, traits }) => found.length === 1 && traits.pitch.f0Hz !== null);
  const octaves = notes.map(({ traits }) => Math.log2(traits.pitch.f0Hz!));
  const rangeOctaves = notes.length > 0 ? Math.max(...octaves) - Math.min(...octaves) : 0;
  const tells = rangeOctaves >= LEAST_OCTAVES;
  const level = tells ? lineOver(notes, ({ loudness }) => loudness.fullLevelDb) : undefined;
  const cutoff = tells ? lineOver(notes, ({ brightness }) => logOf(cutoffOf(brightness))) : undefined;
  return {
    noteCount: notes.length,
    rangeOctaves,
    keyTrackingPercent: cutoff ? 100 * cutoff.slope : null,
    levelPerOctaveDb: level?.slope ?? null,
    levelScatterDb: level?.scatter ?? null,
    varying: varyingOf(notes),
  };
}

type Traits = Reading['traits'];

/**
 * Where the filter stands when it has been opened: a sweep's start says more than its end, which can lie
 * under the note.
 */
const cutoffOf = ({ cutoffHz, sweep }: Traits['brightness']) => sweep?.fromHz ?? cutoffHz;
const logOf = (hz: number | null) => (hz === null ? null : Math.log2(hz));

function lineOver(notes: readonly Reading[], valueOf: (traits: Traits) => number | null) {
  const points = notes.flatMap(({ traits }) => {
    const y = valueOf(traits);
    return y === null ? [] : [{ x: Math.log2(traits.pitch.f0Hz!), y }];
  });
  const xs = points.map(({ x }) => x);
  const ys = points.map(({ y }) => y);
  if (points.length < 2 || Math.max(...xs) - Math.min(...xs) < LEAST_OCTAVES) return undefined;
  const { intercept, slope } = fitLine(xs, ys, new Float64Array(points.length).fill(1));
  return { slope, scatter: deviation(points.map(({ x, y }) => y - intercept - slope * x)) };
}

function varyingOf(notes: readonly Reading[]): Varying[] {
  const groups = groupsOfOnePitch(notes).filter((group) => group.length > 1);
  if (groups.length === 0) return [];
  const measures: [Varying['trait'], Varying['unit'], (traits: Traits) => number | null][] = [
    ['level', 'dB', ({ loudness }) => loudness.fullLevelDb],
    // As a share: attacks are noticed by their ratio.
    ['attack', '%', ({ loudness }) => (loudness.attackSeconds ? 100 * Math.log(loudness.attackSeconds) : null)],
    ['brightness', 'octaves', ({ brightness }) => logOf(brightness.centroidHz)],
    ['tuning', 'ct', ({ pitch }) => pitch.cents],
  ];
  return measures.flatMap(([trait, unit, valueOf]) => {
    const offsets = groups.flatMap((group) => {
      const values = group.map(({ traits }) => valueOf(traits)).filter((value) => value !== null);
      return values.length > 1 ? values.map((value) => value - mean(values)) : [];
    });
    const scatter = offsets.length > 1 ? deviation(offsets) : 0;
    return scatter > JUST_NOTICEABLE[trait] ? [{ trait, scatter, unit }] : [];
  });
}

function groupsOfOnePitch(notes: readonly Reading[]): Reading[][] {
  const groups: Reading[][] = [];
  const semitonesOf = ({ traits }: Reading) => 12 * Math.log2(traits.pitch.f0Hz!);
  for (const note of notes) {
    const group = groups.find(([first]) => Math.abs(semitonesOf(first) - semitonesOf(note)) < SAME_SEMITONES);
    if (group) group.push(note);
    else groups.push([note]);
  }
  return groups;
}

const deviation = (values: readonly number[]) => Math.sqrt(mean(values.map((value) => value * value)));
