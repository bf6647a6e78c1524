import { useMemo } from 'react';
import { type EnvelopeProgram, compileEnvelope, envelopeValue } from '@imprint/core/patch/envelopeCurve';
import { compileContour, contourValue } from '@imprint/core/engine/contour';
import { formatValue } from '@imprint/core/parameters/format';
import { ratioFromSemitones } from '@imprint/core/dsp/pitch';
import type { Layer, Modulator } from '@imprint/core/patch/schema';
import type { Reading } from '@imprint/core/reading/schema';
import { Lane, type LanePoint } from '../../drawing/Lane';
import { seriesPoints } from '../../drawing/seriesPoints';

const POINTS = 360;
/** Bottom of the level lane under its top. */
const LEVEL_RANGE_DB = 48;

/** The movement of the layer over the cut's time, each over the contour that was measured of the reference. */
export function Lanes({ layer, reading }: { layer: Layer; reading: Reading }) {
  const { durationSeconds, traits, notes } = reading;
  const curves = useMemo(() => patchCurves(layer, reading), [layer, reading]);
  const level = useMemo(() => levelPoints(reading), [reading]);
  const brightness = useMemo(() => seriesPoints(traits.brightness.cutoffContour), [traits.brightness.cutoffContour]);
  const sweep = layer.routes.find((route) => route.on && route.to.parameter === 'cutoffHz');
  const length = notes.length === 1 ? `note of ${formatValue(notes[0].durationSeconds, 's')}` : `${notes.length} notes`;
  return (
    <section aria-label="Lanes" className="hairline-t shrink-0">
      <Lane
        title="Level"
        detail={`envelope, ${length}`}
        durationSeconds={durationSeconds}
        range={[-LEVEL_RANGE_DB, 3]}
        reference={level}
        patch={curves.level}
      />
      <Lane
        title="Brightness"
        detail={layer.filter.on ? `cutoff ${sweep ? formatValue(sweep.amount, 'st') : 'at rest'}` : 'low-pass off'}
        durationSeconds={durationSeconds}
        range={[60, 20000]}
        log
        reference={brightness}
        patch={layer.filter.on ? curves.cutoff : []}
      />
      <Lane
        title="Position"
        detail="along the wavetable"
        durationSeconds={durationSeconds}
        range={[0, 100]}
        reference={[]}
        patch={curves.position}
      />
      <div className="hairline-t grid h-5 grid-cols-[150px_1fr]">
        <span />
        <div className="relative">
          {[0, 0.2, 0.4, 0.6, 0.8].map((share) => (
            <span
              key={share}
              className="figures absolute border-l border-base-300 pl-1 text-2xs text-soft"
              style={{ left: `${100 * share}%` }}
            >
              {(share * durationSeconds).toFixed(2)} s
            </span>
          ))}
        </div>
      </div>
    </section>
  );
}

/** The reference's level, dB under its fitted full level. */
function levelPoints({ traits: { loudness } }: Reading): LanePoint[] {
  const top = loudness.fullLevelDb ?? 0;
  return seriesPoints(loudness.contour, (level) => Math.max(-LEVEL_RANGE_DB, level - top));
}

/** What the layer's movement does to a note of the cut, worked out with the engine's own curves. */
function patchCurves(
  layer: Layer,
  reading: Reading,
): { level: LanePoint[]; cutoff: LanePoint[]; position: LanePoint[] } {
  const amp = compileEnvelope(layer.amp);
  const values = layer.modulators.map(valueFunction);
  const curves = { level: [] as LanePoint[], cutoff: [] as LanePoint[], position: [] as LanePoint[] };
  const table = layer.sources.find((source) => source.kind === 'wavetable');
  for (let i = 0; i < POINTS; i++) {
    const at = (reading.durationSeconds * i) / (POINTS - 1);
    const note = reading.notes.findLast(({ onsetSeconds }) => onsetSeconds <= at);
    if (!note) continue;
    const seconds = at - note.onsetSeconds;
    const routed = (parameter: string, moduleId?: string) =>
      layer.routes
        .filter(
          (route) => route.on && route.to.parameter === parameter && (!moduleId || route.to.moduleId === moduleId),
        )
        .reduce((sum, { from, amount }) => {
          const index = layer.modulators.findIndex(({ id }) => id === from);
          return sum + amount * values[index](seconds, note.durationSeconds);
        }, 0);
    const envelope = envelopeValue(amp, seconds, note.durationSeconds);
    curves.level.push([at, Math.max(-LEVEL_RANGE_DB, 20 * Math.log10(envelope + 1e-6) + routed('levelDb'))]);
    curves.cutoff.push([at, Math.min(20000, layer.filter.cutoffHz * ratioFromSemitones(routed('cutoffHz')))]);
    if (table) curves.position.push([at, Math.min(100, table.position + routed('position', table.id))]);
  }
  return curves;
}

function valueFunction(modulator: Modulator): (seconds: number, releasedAt: number) => number {
  if (modulator.kind === 'contour') {
    const program = compileContour(modulator);
    return (seconds) => contourValue(program, seconds);
  }
  const program: EnvelopeProgram = compileEnvelope(modulator);
  return (seconds, releasedAt) => envelopeValue(program, seconds, releasedAt);
}
