import { useMemo } from 'react';
import { hzFromMidi } from '@imprint/core/dsp/pitch';
import { type LayerCurves, layerCurves } from '@imprint/core/engine/voice/layerCurves';
import { phraseOf } from '@imprint/core/matching/phrase';
import { formatValue } from '@imprint/core/parameters/format';
import { targetOf } from '@imprint/core/patch/modules';
import type { Layer, Modulator, Patch, Route } from '@imprint/core/patch/schema';
import { modulatorWords } from '@imprint/core/patch/words/modulators';
import { filterTitles, targetTitle } from '@imprint/core/patch/words/words';
import type { Reading } from '@imprint/core/reading/schema';
import { Lane, type LanePoint } from '../../drawing/Lane';
import { seriesPoints } from '../../drawing/seriesPoints';
import { usePatchStore } from '../../stores/patchStore';
import { useSelection } from '../../stores/selectionStore';

const POINTS = 400;
/** Bottom of the level lane under its top. */
const LEVEL_RANGE_DB = 48;
const CENTS_RANGE = 120;

/**
 * The movement of the layer over the cut's time, each over the contour that was measured of the reference.
 */
export function Lanes({ layer, reading }: { layer: Layer; reading: Reading }) {
  const patch = usePatchStore((state) => state.patch)!;
  const moduleId = useSelection((selection) => selection.moduleId);
  const { durationSeconds, notes } = reading;
  const curves = useMemo(
    () => layerCurves(patch, layer, phraseOf(reading), durationSeconds, POINTS),
    [patch, layer, reading, durationSeconds],
  );
  const measured = useMemo(() => measuredPoints(reading), [reading]);
  const filter = layer.filters.find(
    ({ on, kind }) => on && (kind === 'lowpass' || kind === 'ladder' || kind === 'lowpassNotch'),
  );
  const modulator = layer.modulators.find(({ id }) => id === moduleId);
  const shared = { durationSeconds, beatSeconds: 60 / patch.bpm };
  const length = notes.length === 1 ? `note of ${formatValue(notes[0].durationSeconds, 's')}` : `${notes.length} notes`;
  return (
    <section aria-label="Lanes" className="flex min-h-0 grow flex-col">
      <Lane
        {...shared}
        title="Level"
        detail={`${formatValue(layer.amp.attackSeconds, 's')}, ${length}`}
        range={[-LEVEL_RANGE_DB, 3]}
        reference={measured.level}
        patch={levelPoints(layer, curves)}
        effect={effectOn(patch, layer, 'levelDb')}
      />
      <Lane
        {...shared}
        title="Brightness"
        detail={filter ? filterTitles[filter.kind].toLowerCase() : 'no low-pass is on'}
        range={[60, 20000]}
        log
        reference={measured.brightness}
        patch={filter ? points(curves, curves.valuesOf({ moduleId: filter.id, parameter: 'cutoffHz' })) : []}
        effect={effectOn(patch, layer, 'cutoffHz')}
      />
      {modulator ? (
        <ModulatorLane
          {...shared}
          patch={patch}
          layer={layer}
          modulator={modulator}
          curves={curves}
          measured={measured}
        />
      ) : (
        <Lane
          {...shared}
          title="Pitch"
          detail="cents around the note"
          range={[-CENTS_RANGE, CENTS_RANGE]}
          reference={measured.pitch}
          patch={pitchPoints(layer, curves)}
          effect={effectOn(patch, layer, 'semitones')}
        />
      )}
      <div className="hairline-t grid h-5 shrink-0 grid-cols-[118px_1fr]">
        <span className="figures pl-5 text-2xs text-soft">{formatValue(patch.bpm, 'BPM')}</span>
        <div className="relative">
          {[0, 0.2, 0.4, 0.6, 0.8].map((share) => (
            <span
              key={share}
              className="figures absolute border-l border-base-300 pl-1 text-2xs text-soft"
              style={{ left: `${100 * share}%` }}
            >
              {formatValue(share * durationSeconds, 's')}
            </span>
          ))}
        </div>
      </div>
    </section>
  );
}

interface MeasuredPoints {
  level: LanePoint[];
  brightness: LanePoint[];
  pitch: LanePoint[];
}

interface ModulatorLaneProps {
  durationSeconds: number;
  beatSeconds: number;
  patch: Patch;
  layer: Layer;
  modulator: Modulator;
  curves: LayerCurves;
  measured: MeasuredPoints;
}

/** The chosen modulator itself, over what the reference does where its first route goes. */
function ModulatorLane({ patch, layer, modulator, curves, measured, ...shared }: ModulatorLaneProps) {
  const routes = layer.routes.filter((route) => route.on && route.from === modulator.id);
  const bipolar = routes.length > 0 && routes.every(({ polarity }) => polarity === 'bipolar');
  const values = curves.modulators.get(modulator.id)!;
  return (
    <Lane
      {...shared}
      title={modulator.name}
      detail={modulatorWords(modulator)}
      range={bipolar ? [-1.1, 1.1] : [-0.05, 1.1]}
      reference={scaledTo(bipolar ? [-1, 1] : [0, 1], referenceOf(routes[0], measured))}
      patch={points(curves, bipolar ? values.map((value) => value && 2 * value - 1) : values)}
      effect={routes.map((route) => effectText(patch, layer, route)).join('; ') || 'moves nothing yet'}
    />
  );
}

function referenceOf(route: Route | undefined, measured: MeasuredPoints): LanePoint[] {
  switch (route?.to.parameter) {
    case 'levelDb':
      return measured.level;
    case 'cutoffHz':
      return measured.brightness.map(([at, hz]) => [at, hz && Math.log2(hz)]);
    case 'semitones':
      return measured.pitch;
    default:
      return [];
  }
}

/** Another quantity brought to the lane's range, from its least to its largest value. */
function scaledTo([low, high]: readonly [number, number], list: LanePoint[]): LanePoint[] {
  const values = list.flatMap(([, value]) => (value === null ? [] : [value]));
  if (values.length === 0) return [];
  const least = Math.min(...values);
  const span = Math.max(...values) - least || 1;
  return list.map(([at, value]) => [at, value === null ? null : low + ((high - low) * (value - least)) / span]);
}

const points = ({ seconds }: LayerCurves, values: readonly (number | null)[]): LanePoint[] =>
  values.map((value, i) => [seconds[i], value]);

/**
 * What the reference does: level under its full level, cutoff in Hz, pitch in cents around the nearest note.
 */
function measuredPoints({ traits: { loudness, brightness, pitch } }: Reading): MeasuredPoints {
  const top = loudness.fullLevelDb ?? 0;
  const noteHz = hzFromMidi(pitch.midi ?? 69);
  return {
    level: seriesPoints(loudness.contour, (level) => Math.max(-LEVEL_RANGE_DB, level - top)),
    brightness: seriesPoints(brightness.cutoffContour),
    pitch: seriesPoints(pitch.contour, (hz) => 1200 * Math.log2(hz / noteHz)),
  };
}

/** Level of the layer, with what moves its first source. */
function levelPoints(layer: Layer, curves: LayerCurves): LanePoint[] {
  const source = layer.sources.find(({ on }) => on);
  const moved = source && curves.valuesOf({ moduleId: source.id, parameter: 'levelDb' });
  return curves.levelDb.map((level, i) => [
    curves.seconds[i],
    level && Math.max(-LEVEL_RANGE_DB, level + (moved ? (moved[i] ?? 0) - source.levelDb : 0)),
  ]);
}

/** Pitch of the layer's first pitched source around the note, in cents. */
function pitchPoints(layer: Layer, curves: LayerCurves): LanePoint[] {
  const source = layer.sources.find((other) => other.on && 'semitones' in other);
  if (!source || !('semitones' in source)) return [];
  const moved = curves.valuesOf({ moduleId: source.id, parameter: 'semitones' });
  return points(
    curves,
    moved.map((value) => value && 100 * (value - source.semitones) + source.cents),
  );
}

const effectOn = (patch: Patch, layer: Layer, parameter: string): string =>
  layer.routes
    .filter((route) => route.on && route.amount !== 0 && route.to.parameter === parameter)
    .slice(0, 2)
    .map((route) => effectText(patch, layer, route))
    .join('; ');

function effectText(patch: Patch, layer: Layer, route: Route): string {
  const target = targetOf(layer, route.to);
  if (typeof target === 'string') return '';
  const amount = formatValue(route.amount, target.parameter.routing!.unit);
  const sign = route.polarity === 'bipolar' ? '±' : '';
  return `${targetTitle(layer, route, patch).toLowerCase()} ${sign}${sign ? amount.replace(/^[+−]/, '') : amount}`;
}
