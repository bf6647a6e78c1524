import { gainFromDecibels } from '../../dsp/decibels';
import type { Layer, Patch, Route } from '../../patch/schema';
import { createModulation, DEFAULT_RELEASE_VELOCITY } from './modulation';
import { AMP, compileLayer } from '../program/program';
import type { PhraseNote } from '../render';
import { type PatchResources, resourcesWanted } from '../program/resources';
import { shapeTable } from '../tables/shapeTables';
import { buildSlots } from '../program/slots';

/**
 * How a layer moves over a phrase, worked out by the engine's own modulation. One value per point; null where
 * no note is.
 */
export interface LayerCurves {
  seconds: Float64Array;
  /** Level of the amp contour times what moves the layer, in dB. */
  levelDb: (number | null)[];
  /** Value 0..1 of each modulator, by id. */
  modulators: ReadonlyMap<string, (number | null)[]>;
  /** Pitch that the newest note was struck at. */
  midi: (number | null)[];
  /** Value of a parameter over time. */
  valuesOf(to: Route['to']): (number | null)[];
}

const FLOOR = 1e-6;

/** @param points how many values over the whole length */
export function layerCurves(
  patch: Patch,
  layer: Layer,
  phrase: readonly PhraseNote[],
  durationSeconds: number,
  points: number,
): LayerCurves {
  const program = compileLayer(patch, layer, silentResources(patch));
  const slots = buildSlots(layer);
  const modulation = createModulation(program);
  const seconds = Float64Array.from({ length: points }, (_, i) => (durationSeconds * i) / (points - 1));
  const snapshots: (Float64Array | null)[] = [];
  const levels: (Float64Array | null)[] = [];
  const levelDb: (number | null)[] = [];
  const midi: (number | null)[] = [];
  const controls = { wheel: 0, pressure: 0, bend: 0 };
  let current: PhraseNote | undefined;
  for (const at of seconds) {
    const newest = phrase.findLast(({ onsetSeconds }) => onsetSeconds <= at);
    if (!newest) {
      snapshots.push(null);
      levels.push(null);
      levelDb.push(null);
      midi.push(null);
      continue;
    }
    const index = phrase.indexOf(newest);
    const note = {
      midi: newest.midi,
      velocity: newest.velocity,
      releaseVelocity: DEFAULT_RELEASE_VELOCITY,
      seed: 65537 + index,
      index,
      seconds: 0,
      releasedAt: Infinity,
    };
    if (newest !== current) modulation.start(program, note, controls, newest.onsetSeconds);
    current = newest;
    note.seconds = at - newest.onsetSeconds;
    note.releasedAt = newest.durationSeconds;
    modulation.advance(program, note, controls);
    snapshots.push(modulation.values.slice());
    levels.push(modulation.levels.slice());
    const layerGain = gainFromDecibels(modulation.values[program.layerSlots.levelDb] - layer.levelDb);
    levelDb.push(20 * Math.log10(modulation.levels[AMP] * layerGain + FLOOR));
    midi.push(newest.midi);
  }
  const ids = [layer.amp, ...layer.modulators, ...patch.macros].map(({ id }) => id);
  return {
    seconds,
    levelDb,
    midi,
    modulators: new Map(ids.map((id, m) => [id, levels.map((level) => level && level[m])])),
    valuesOf(to) {
      const { slot } = slots.target(to);
      return snapshots.map((values) => values && values[slot]);
    },
  };
}

/** Stand-ins for tables and samples, which do not matter to movement. */
function silentResources(patch: Patch): PatchResources {
  const wanted = resourcesWanted(patch);
  const sample = { sampleRateHz: 44100, octaves: [[new Float64Array(2)]] };
  return {
    tables: new Map(wanted.filter(({ kind }) => kind !== 'sample').map(({ key }) => [key, shapeTable()])),
    samples: new Map(wanted.filter(({ kind }) => kind === 'sample').map(({ key }) => [key, sample])),
  };
}
