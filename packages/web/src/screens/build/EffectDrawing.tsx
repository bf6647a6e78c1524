import { PATTERN_STEPS } from '@imprint/core/patch/effectSchema';
import type { Effect } from '@imprint/core/patch/schema';
import { PointEditor } from '../../drawing/PointEditor';
import type { EffectOf, SetFields } from './EffectChoices';
import { EqualizerBands } from './EqualizerBands';

/** What of an effect is drawn by hand, or set band by band. */
export function EffectDrawing({ effect, set }: { effect: Effect; set: SetFields }) {
  if (effect.kind === 'equalizer') return <EqualizerBands effect={effect} set={set} />;
  if (effect.kind === 'drive' && effect.curve === 'drawn')
    return <DrawnShape points={effect.drawnCurve} onChange={(drawnCurve) => set({ drawnCurve })} />;
  if (effect.kind !== 'ducker') return null;
  if (effect.key === 'pattern') return <Pattern effect={effect} set={set} />;
  if (effect.key === 'layer') return null;
  return (
    <PointEditor
      label={`Level over ${effect.division}`}
      points={effect.curve}
      x={[0, 1]}
      y={[0, 1]}
      fixedEnds
      maxPoints={32}
      describe={({ x, y }) => `at ${Math.round(100 * x)} % of the way ${Math.round(100 * y)} %`}
      onChange={(curve) => set({ curve })}
    />
  );
}

interface DrawnShapeProps {
  points: EffectOf<'drive'>['drawnCurve'];
  onChange: (points: EffectOf<'drive'>['drawnCurve']) => void;
}

/** The curve of a drive or a shaper, drawn. */
export function DrawnShape({ points, onChange }: DrawnShapeProps) {
  return (
    <PointEditor
      label="Drawn curve: output over input"
      points={points}
      x={[-1, 1]}
      y={[-1, 1]}
      fixedEnds
      maxPoints={32}
      describe={({ x, y }) => `${x.toFixed(2)} becomes ${y.toFixed(2)}`}
      onChange={onChange}
    />
  );
}

/** Sixteenths of a bar that duck. */
function Pattern({ effect: { pattern }, set }: { effect: EffectOf<'ducker'>; set: SetFields }) {
  return (
    <div className="flex gap-1 py-2" role="group" aria-label="Strokes in sixteenths">
      {Array.from({ length: PATTERN_STEPS }, (_, step) => (
        <button
          key={step}
          type="button"
          aria-label={`Sixteenth ${step + 1}`}
          aria-pressed={pattern[step]}
          className={`figures h-6 grow border border-base-300 text-[11px] ${step % 4 === 0 && step > 0 ? 'ml-2' : ''} ${
            pattern[step] ? 'bg-patch text-base-100' : 'text-soft'
          }`}
          onClick={() => set({ pattern: pattern.with(step, !pattern[step]) })}
        >
          {step % 4 === 0 ? step / 4 + 1 : ''}
        </button>
      ))}
    </div>
  );
}
