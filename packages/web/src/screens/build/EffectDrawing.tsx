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
  if (effect.kind === 'tremolo' && effect.shape === 'drawn')
    return (
      <DrawnLevel label="Level over one turn" points={effect.drawnTurn} onChange={(drawnTurn) => set({ drawnTurn })} />
    );
  if (effect.kind !== 'ducker' || effect.key === 'layer') return null;
  if (effect.key === 'pattern') return <Pattern effect={effect} set={set} />;
  return (
    <DrawnLevel label={`Level over ${effect.division}`} points={effect.curve} onChange={(curve) => set({ curve })} />
  );
}

type Points = EffectOf<'drive'>['drawnCurve'];

/** How loud it is at each place of a stretch of time, as shares. */
function DrawnLevel({ label, ...line }: { label: string; points: Points; onChange: (points: Points) => void }) {
  return (
    <PointEditor
      {...line}
      label={label}
      x={[0, 1]}
      y={[0, 1]}
      fixedEnds
      maxPoints={32}
      describe={({ x, y }) => `at ${Math.round(100 * x)} % of the way ${Math.round(100 * y)} %`}
    />
  );
}

/** The curve of a drive or a shaper, drawn. */
export function DrawnShape(line: { points: Points; onChange: (points: Points) => void }) {
  return (
    <PointEditor
      {...line}
      label="Drawn curve: output over input"
      x={[-1, 1]}
      y={[-1, 1]}
      fixedEnds
      maxPoints={32}
      describe={({ x, y }) => `${x.toFixed(2)} becomes ${y.toFixed(2)}`}
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
