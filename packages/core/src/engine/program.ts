import { gainFromDecibels } from '../dsp/decibels';
import type { Parameter } from '../parameters/parameter';
import { parameterOf } from '../parameters/table';
import type { Filter, Layer, Modulator, Patch, Source } from '../patch/schema';
import { framesOf } from '../patch/wavetableFrames';
import { type BandlimitedTable, tableFromFrames } from './bandlimitedTable';
import { type ContourProgram, compileContour } from './contour';
import { type EnvelopeProgram, compileEnvelope } from '../patch/envelopeCurve';
import { shapeTable } from './shapeTables';

/** Band-limited wavetables by wavetable id. Making them takes tens of milliseconds, so it is done away from the audio thread. */
export type PreparedTables = ReadonlyMap<string, BandlimitedTable>;

export function prepareTables(patch: Patch): PreparedTables {
  return new Map(patch.wavetables.map((table) => [table.id, tableFromFrames(framesOf(table))]));
}

/** A layer as the voices read it: no strings, no look-ups; moving values in numbered slots. */
export interface LayerProgram {
  gain: number;
  sources: SourceProgram[];
  filter: FilterProgram;
  amp: EnvelopeProgram;
  modulators: ModulatorProgram[];
  slots: Slot[];
  routes: RouteProgram[];
  /** False while all of the layer is in the middle, so that one channel is enough. */
  stereo: boolean;
}

export interface SourceProgram {
  on: boolean;
  table: BandlimitedTable;
  /** A pulse is the difference of two saws. */
  pulse: boolean;
  pitchOffsetSemitones: number;
  startPhaseCycles: number;
  /** Of each unison voice: frequency against the middle, and factors left and right. */
  ratios: Float64Array;
  left: Float64Array;
  right: Float64Array;
  /** Of the sharpest unison voice. */
  highestRatio: number;
  levelSlot: number;
  pitchSlot: number;
  /** Pulse width or table position, 0..100. */
  shapeSlot: number;
}

export interface FilterProgram {
  on: boolean;
  slope: Filter['slopeDbPerOctave'];
  keyTracking: number;
  cutoffSlot: number;
  resonanceSlot: number;
}

export type ModulatorProgram =
  { kind: 'envelope'; program: EnvelopeProgram } | { kind: 'contour'; program: ContourProgram };

/** A parameter that can move: resting value, and how routes add up on it. */
export interface Slot {
  base: number;
  min: number;
  max: number;
  semitones: boolean;
}

export interface RouteProgram {
  modulator: number;
  slot: number;
  amount: number;
}

export function compileLayer(layer: Layer, tables: PreparedTables): LayerProgram {
  const slots: Slot[] = [];
  const slotIndex = new Map<string, number>();

  function slotOf(module: Source | Filter, name: string): number {
    const parameter = parameterOf(module.kind, name) as Parameter;
    const base = (module as unknown as Record<string, number>)[name];
    slots.push({ base, min: parameter.min, max: parameter.max, semitones: parameter.routing?.combine === 'semitones' });
    slotIndex.set(`${module.id}.${name}`, slots.length - 1);
    return slots.length - 1;
  }

  const sources = layer.sources.map((source) => compileSource(source, tables, slotOf));
  const filter: FilterProgram = {
    on: layer.filter.on,
    slope: layer.filter.slopeDbPerOctave,
    keyTracking: layer.filter.keyTracking / 100,
    cutoffSlot: slotOf(layer.filter, 'cutoffHz'),
    resonanceSlot: slotOf(layer.filter, 'resonanceDb'),
  };
  const modulatorIndex = new Map(layer.modulators.map((modulator, index) => [modulator.id, index]));
  const routes = layer.routes
    .filter((route) => route.on)
    .map(({ from, to, amount }): RouteProgram => ({
      modulator: modulatorIndex.get(from)!,
      slot: slotIndex.get(`${to.moduleId}.${to.parameter}`)!,
      amount,
    }));

  return {
    gain: layer.on ? gainFromDecibels(layer.levelDb) : 0,
    sources,
    filter,
    amp: compileEnvelope(layer.amp),
    modulators: layer.modulators.map(compileModulator),
    slots,
    routes,
    stereo: sources.some(({ left, right }) => left.some((factor, u) => factor !== right[u])),
  };
}

function compileModulator(modulator: Modulator): ModulatorProgram {
  return modulator.kind === 'envelope'
    ? { kind: 'envelope', program: compileEnvelope(modulator) }
    : { kind: 'contour', program: compileContour(modulator) };
}

function compileSource(
  source: Source,
  tables: PreparedTables,
  slotOf: (module: Source, name: string) => number,
): SourceProgram {
  const pulse = source.kind === 'shape' && source.shape === 'pulse';
  const unison = unisonVoices(source);
  return {
    on: source.on,
    table: tableOf(source, tables),
    pulse,
    pitchOffsetSemitones: 12 * source.octaves + source.cents / 100,
    startPhaseCycles: source.startPhaseCycles % 1,
    ratios: Float64Array.from(unison, ({ ratio }) => ratio),
    left: Float64Array.from(unison, ({ left }) => left),
    right: Float64Array.from(unison, ({ right }) => right),
    highestRatio: Math.max(...unison.map(({ ratio }) => ratio)),
    levelSlot: slotOf(source, 'levelDb'),
    pitchSlot: slotOf(source, 'semitones'),
    shapeSlot: slotOf(source, source.kind === 'shape' ? 'pulseWidth' : 'position'),
  };
}

function tableOf(source: Source, tables: PreparedTables): BandlimitedTable {
  if (source.kind === 'shape') return shapeTable(source.shape === 'pulse' ? 'saw' : source.shape);
  const table = tables.get(source.wavetableId);
  if (!table) throw new Error(`Wavetable "${source.wavetableId}" was not prepared.`);
  return table;
}

/** Voices evenly spaced over the total detune, panned in turn from side to side at constant power, summed at constant power. */
function unisonVoices({
  unisonVoices,
  unisonDetuneCents,
  unisonSpread,
}: Source): { ratio: number; left: number; right: number }[] {
  const count = Math.round(unisonVoices);
  const gain = 1 / Math.sqrt(count);
  return Array.from({ length: count }, (_, u) => {
    const along = count > 1 ? u / (count - 1) - 0.5 : 0;
    const side = (u % 2 === 0 ? 2 : -2) * along * (unisonSpread / 100);
    const angle = (Math.PI / 4) * (1 + side);
    return {
      ratio: 2 ** ((along * unisonDetuneCents) / 1200),
      left: side === 0 ? gain : gain * Math.SQRT2 * Math.cos(angle),
      right: side === 0 ? gain : gain * Math.SQRT2 * Math.sin(angle),
    };
  });
}
