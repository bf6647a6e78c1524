import { DECIMATOR_LATENCY } from '../../dsp/halfband';
import { type EnvelopeProgram, compileEnvelope } from '../../patch/envelopeCurve';
import { LAYER_MODULE } from '../../patch/modules';
import type { Envelope, Interaction, Layer, NoteValue, Patch, Route, Source, Voice } from '../../patch/schema';
import { type destinations, shapeNames } from '../../patch/schemas/sourceSchema';
import type { BandlimitedTable } from '../tables/bandlimitedTable';
import { type EffectProgram, compileEffect } from '../effects/chain/effect';
import type { FilterProgram } from '../filters/filter';
import { type ContourProgram, compileContour } from '../modulators/contour';
import { type LfoProgram, compileLfo } from '../modulators/lfo';
import { compileDrawnPhase, phaseShapeCode } from '../shaping/phaseShapes';
import { type PatchResources, partialsKey } from './resources';
import { SHAPER_LATENCY, type ShaperProgram, compileShaper } from '../shaping/shaper';
import { shapeTable } from '../tables/shapeTables';
import { type SlotBuilder, type SlotTable, buildSlots } from './slots';
import type { NoiseProgram, NoiseSlots } from '../sources/noise';
import type { SampleProgram, SampleSlots } from '../sources/sample';
import type { UnisonRoute } from '../sources/source';
import type { Incoming } from '../sources/interaction';
import type { TonalProgram, TonalSlots } from '../sources/tonal';

/** A layer as the voices read it: no strings to look up; all numbers in numbered slots. */
export interface LayerProgram {
  /** 0 when the layer is off. */
  gain: number;
  voice: Voice;
  slots: SlotTable;
  sources: SourceProgram[];
  /**
   * Sources that run at the plain rate; those that may have to run at four times it, modulators first; those
   * that wait for them.
   */
  plain: number[];
  fine: number[];
  late: number[];
  /** Destinations in use, as bits, by sources at either rate. */
  plainInto: number;
  fineInto: number;
  filters: [LayerFilter, LayerFilter];
  parallel: boolean;
  shaper: ShaperProgram;
  /** The amp envelope, the modulators of the layer, the macros. */
  modulators: ModulatorProgram[];
  routes: RouteProgram[];
  /** Routes that are read when a note starts. */
  startRoutes: RouteProgram[];
  /** Whether anything moves but the amp contour and the pitch's own glide. */
  moves: boolean;
  /** What the sum of the voices is put through. */
  effects: EffectProgram[];
  layerSlots: Readonly<Record<string, number>>;
  /** Semitones by which a note can rise over where it begins, by routes and by gliding in. */
  rise: number;
  /** False while all sources are in the middle, so that one channel is enough for them. */
  stereo: boolean;
  /** True when the layer as a whole is in the middle too. */
  centred: boolean;
  /** Whether anything in the layer can put out a constant, which is then taken away. */
  makesDc: boolean;
  /** Samples that a voice has to run ahead when its fine sources run at four times the rate, and when not. */
  latency: { fine: number; plain: number };
}

export type SourceProgram = TonalProgram | NoiseProgram | SampleProgram;

/** A filter, whether it is heard, and where the numbers that every filter has stand. */
export interface LayerFilter extends FilterProgram {
  on: boolean;
  /** Whether routes arrive at it. */
  moves: boolean;
  /** −1 for a filter without a cutoff. */
  cutoffSlot: number;
  keyTrackingSlot: number;
  mixSlot: number;
}

export type ModulatorProgram =
  | { kind: 'envelope'; program: EnvelopeProgram; slots: Readonly<Record<string, number>>; atNoteStart: boolean }
  | { kind: 'contour'; program: ContourProgram }
  | { kind: 'lfo'; program: LfoProgram }
  | { kind: 'note'; of: NoteValue['of']; cycle: number }
  | { kind: 'macro'; value: number };

export interface RouteProgram {
  modulator: number;
  slot: number;
  amount: number;
  /** Where the amount stands when routes move it, or −1. */
  amountSlot: number;
  bipolar: boolean;
}

/** Place of the amp envelope among the modulators. */
export const AMP = 0;

/** Numbers of the destinations of sources. */
export const INTO = { first: 0, second: 1, both: 2, past: 3 } as const satisfies Record<
  (typeof destinations)[number],
  number
>;

export function compileLayer(patch: Patch, layer: Layer, resources: PatchResources): LayerProgram {
  const slots = buildSlots(layer);
  const sources = layer.sources.map((source) => compileSource(layer, source, resources, slots));
  const { atStart, always } = compileRoutes(patch, layer, slots);
  const fine = sources.flatMap((source, index) => (source.kind === 'tonal' && source.fine ? [index] : []));
  const late = sources.flatMap(({ kind, incoming }, i) => (kind !== 'tonal' && incoming.length > 0 ? [i] : []));
  const plain = sources.flatMap((_, index) => (fine.includes(index) || late.includes(index) ? [] : [index]));
  const intoOf = (indices: readonly number[]) => indices.reduce((bits, index) => bits | (1 << sources[index].into), 0);
  const shaper = compileShaper(layer.shaper, slots.of(layer.shaper.id));
  const shaperLatency = shaper.on ? SHAPER_LATENCY : 0;
  const { base } = slots.table();
  const started = new Set(atStart.map(({ slot }) => slot));
  const stereo = sources.some((source, i) => isStereo(source, layer.sources[i], layer, base));
  const panMoves = routesToLayer(layer, 'pan').length > 0;
  return {
    gain: layer.on ? 1 : 0,
    voice: layer.voice,
    slots: slots.table(),
    sources,
    plain,
    fine: inModulationOrder(fine, sources),
    late,
    plainInto: intoOf([...plain, ...late]),
    fineInto: intoOf(fine),
    filters: [compileFilter(layer, 0, slots), compileFilter(layer, 1, slots)],
    parallel: layer.filterOrder === 'parallel',
    shaper,
    modulators: [
      compileEnvelopeModulator(layer.amp, slots, started),
      ...layer.modulators.map((modulator): ModulatorProgram => {
        switch (modulator.kind) {
          case 'envelope':
            return compileEnvelopeModulator(modulator, slots, started);
          case 'contour':
            return { kind: 'contour', program: compileContour(modulator) };
          case 'lfo':
            return {
              kind: 'lfo',
              program: compileLfo(modulator, patch.bpm, slots.of(modulator.id) as unknown as LfoProgram['slots']),
            };
          case 'note':
            return { kind: 'note', of: modulator.of, cycle: modulator.cycle };
        }
      }),
      ...patch.macros.map((macro): ModulatorProgram => ({ kind: 'macro', value: macro.value / 100 })),
    ],
    routes: always,
    startRoutes: atStart,
    moves: always.length > 0 || sources.some((source) => source.kind === 'tonal' && source.moves),
    effects: layer.effects.map((spec) => compileEffect(spec, slots.of(spec.id), patch.bpm, resources)),
    layerSlots: slots.of(LAYER_MODULE),
    rise: riseOf(layer),
    stereo,
    centred: !stereo && layer.pan === 0 && !panMoves,
    makesDc: shaper.on || sources.some(canMakeDc) || layer.filters.some(({ on, kind }) => on && kind === 'ladder'),
    latency: { fine: DECIMATOR_LATENCY + shaperLatency, plain: shaperLatency },
  };
}

function compileEnvelopeModulator(
  envelope: Envelope,
  slots: SlotBuilder,
  started: ReadonlySet<number>,
): ModulatorProgram {
  const own = slots.of(envelope.id);
  return {
    kind: 'envelope',
    program: compileEnvelope(envelope),
    slots: own,
    atNoteStart: Object.values(own).some((slot) => started.has(slot)),
  };
}

function compileRoutes(patch: Patch, layer: Layer, slots: SlotBuilder) {
  const origins = [layer.amp, ...layer.modulators, ...patch.macros];
  const index = new Map(origins.map(({ id }, i) => [id, i]));
  const atStart: RouteProgram[] = [];
  const amounts: RouteProgram[] = [];
  const others: RouteProgram[] = [];
  for (const route of layer.routes) {
    const modulator = index.get(route.from)!;
    const origin = origins[modulator];
    // Each unison voice reads routes from its place for itself.
    if (!isActive(layer, route) || ('of' in origin && origin.of === 'unison')) continue;
    const { slot, moment } = slots.target(route.to);
    const compiled: RouteProgram = {
      modulator,
      slot,
      amount: route.amount,
      amountSlot: slots.amountOf(route.id),
      bipolar: route.polarity === 'bipolar',
    };
    if (moment === 'noteStart') atStart.push(compiled);
    else if (route.to.parameter === 'amount') amounts.push(compiled);
    else others.push(compiled);
  }
  // Amounts come first, so that the routes they belong to read them in the same block.
  return { atStart, always: [...amounts, ...others] };
}

/** Whether a route does anything: it is on, and its amount is or can become something. */
const isActive = ({ routes }: Layer, { id, on, amount }: Route) =>
  on && (amount !== 0 || routes.some((other) => other.on && other.to.moduleId === id));

const routesToLayer = (layer: Layer, parameter: string): Route[] =>
  layer.routes.filter(
    (route) => route.to.moduleId === LAYER_MODULE && route.to.parameter === parameter && isActive(layer, route),
  );

function riseOf(layer: Layer): number {
  const routed = routesToLayer(layer, 'semitones').reduce((sum, { amount }) => sum + Math.abs(amount), 0);
  return routed + Math.max(0, -layer.voice.glideInSemitones);
}

function compileFilter(layer: Layer, index: 0 | 1, slots: SlotBuilder): LayerFilter {
  const filter = layer.filters[index];
  const own = slots.of(filter.id);
  return {
    spec: filter,
    slots: own,
    on: filter.on,
    moves: layer.routes.some((route) => route.to.moduleId === filter.id && isActive(layer, route)),
    cutoffSlot: own.cutoffHz ?? -1,
    keyTrackingSlot: own.keyTracking,
    mixSlot: own.mix,
  };
}

function compileSource(layer: Layer, source: Source, resources: PatchResources, slots: SlotBuilder): SourceProgram {
  const detuneMoves = routesToLayer(layer, 'detuneCents').length > 0;
  const own = slots.of(source.id) as unknown;
  const modulates = layer.interactions.some((i) => i.on && i.kind !== 'ringTone' && i.from === source.id);
  const incoming = incomingOf(layer, source, slots);
  const common = { on: source.on, into: INTO[source.into], incoming, modulates };
  switch (source.kind) {
    case 'noise':
      return { ...common, kind: 'noise', slots: own as NoiseSlots, perNote: source.restart === 'note' };
    case 'sample': {
      const sample = resources.samples.get(source.sampleId);
      if (!sample) throw new Error(`Sample "${source.sampleId}" was not made ready.`);
      const { tuning, loop, reverse } = source;
      return {
        ...common,
        kind: 'sample',
        slots: own as SampleSlots,
        tuning,
        sample,
        loop,
        reverse,
        unisonVoices: Math.round(source.unisonVoices),
        unisonRoutes: unisonRoutesOf(layer, source),
      };
    }
    default: {
      const feedback = layer.interactions.find(
        (other) => other.kind === 'fm' && other.on && other.from === source.id && other.to === source.id,
      );
      const phaseShape = phaseShapeCode[source.phaseShape];
      return {
        ...common,
        kind: 'tonal',
        slots: own as TonalSlots,
        tuning: source.tuning,
        table: tableOf(layer, source, resources),
        shape: source.kind === 'shape' ? shapeNames.indexOf(source.shape) : -1,
        unisonVoices: Math.round(source.unisonVoices),
        unisonRoutes: unisonRoutesOf(layer, source),
        phaseShape,
        drawnPhase: compileDrawnPhase(source.drawnPhase),
        fine: phaseShape !== 0 || incoming.length > 0 || feedback !== undefined || modulates,
        moves:
          source.driftCents > 0 ||
          detuneMoves ||
          layer.routes.some((route) => route.to.moduleId === source.id && isActive(layer, route)),
        feedbackSlot: feedback && slots.of(feedback.id).index,
        pureSine: isPureSine(layer, source) && phaseShape === 0 && feedback === undefined,
      };
    }
  }
}

function isPureSine(layer: Layer, source: Source): boolean {
  const morphs = layer.routes.some(({ on, to }) => on && to.moduleId === source.id && to.parameter === 'morph');
  return source.kind === 'shape' && source.shape === 'sine' && source.morph === 0 && !morphs;
}

/**
 * FM and ring modulation that arrives at a source from others that are switched on; feedback is told apart.
 */
function incomingOf(layer: Layer, target: Source, slots: SlotBuilder): Incoming[] {
  const incoming: Incoming[] = [];
  for (const interaction of layer.interactions) {
    if (!interaction.on || interaction.to !== target.id) continue;
    const own = slots.of(interaction.id);
    if (interaction.kind === 'ringTone') {
      const { depth: depthSlot, toneHz: hzSlot, toneRatio: ratioSlot } = own;
      incoming.push({ kind: 'ringTone', tuning: interaction.tuning, depthSlot, hzSlot, ratioSlot });
      continue;
    }
    const from = layer.sources.findIndex(({ id, on }) => on && id === interaction.from);
    if (from < 0 || interaction.from === interaction.to) continue;
    if (interaction.kind === 'fm')
      incoming.push({ kind: 'fm', from, indexSlot: own.index, highestIndex: highestIndexOf(layer, interaction) });
    else incoming.push({ kind: 'ring', from, depthSlot: own.depth });
  }
  return incoming;
}

/** The FM index with everything that routes may add to it. */
function highestIndexOf({ routes }: Layer, { id, index }: Extract<Interaction, { kind: 'fm' }>): number {
  return routes
    .filter(({ on, to }) => on && to.moduleId === id)
    .reduce((sum, { amount }) => sum + Math.abs(amount), index);
}

/**
 * Fine sources so that what modulates comes before what it modulates; in a ring one hears the other's block
 * before.
 */
function inModulationOrder(fine: readonly number[], sources: readonly SourceProgram[]): number[] {
  const ordered: number[] = [];
  const visiting = new Set<number>();
  const visit = (index: number) => {
    if (ordered.includes(index) || visiting.has(index)) return;
    visiting.add(index);
    const source = sources[index];
    if (source.kind === 'tonal') {
      for (const connection of source.incoming) if (connection.kind !== 'ringTone') visit(connection.from);
    }
    ordered.push(index);
  };
  fine.forEach(visit);
  return ordered.filter((index) => fine.includes(index));
}

function tableOf(layer: Layer, source: Source, { tables }: PatchResources): BandlimitedTable {
  if (source.kind === 'shape') return shapeTable();
  const key = source.kind === 'wavetable' ? source.wavetableId : partialsKey(layer.id, source.id);
  const table = tables.get(key);
  if (!table) throw new Error(`Table "${key}" was not made ready.`);
  return table;
}

function unisonRoutesOf(layer: Layer, { id }: Source): UnisonRoute[] {
  const places = new Set(
    layer.modulators.filter((modulator) => modulator.kind === 'note' && modulator.of === 'unison').map((m) => m.id),
  );
  return layer.routes
    .filter(({ on, from, to }) => on && places.has(from) && to.moduleId === id)
    .map(({ to, amount, polarity }) => ({
      target: to.parameter as UnisonRoute['target'],
      amount,
      bipolar: polarity === 'bipolar',
    }));
}

/** Whether a source can stand anywhere but in the middle: by its own settings, or by routes. */
function isStereo(source: SourceProgram, { id }: Source, layer: Layer, base: Float64Array): boolean {
  if (base[source.slots.pan] !== 0) return true;
  const moved = layer.routes.some(
    ({ on, to }) => on && to.moduleId === id && (to.parameter === 'pan' || to.parameter === 'unisonSpread'),
  );
  if (moved) return true;
  if (source.kind === 'noise') return base[source.slots.widthPercent] > 0;
  if (source.kind === 'sample' && source.sample.octaves[0].length > 1) return true;
  return source.unisonVoices > 1 && base[source.slots.unisonSpread] > 0;
}

function canMakeDc(source: SourceProgram): boolean {
  return source.kind === 'sample' || (source.kind === 'tonal' && source.fine);
}
