import type { Line, Point } from '@imprint/core/parameters/effects/choices';
import { choicesOfEffect } from '@imprint/core/patch/words/effects';
import type { Effect } from '@imprint/core/patch/schema';
import { PointEditor } from '../../../drawing/PointEditor';
import { type Axis, axisIn, percentAxis } from '../../../drawing/axis';
import type { SetFields } from './EffectChoices';
import { EqualizerBands } from './EqualizerBands';

const MOST_POINTS = 32;
const plainAxis = (range: Axis['range']) => axisIn('', range);

/** What of an effect is drawn by hand, or set band by band. */
export function EffectDrawing({ effect, set }: { effect: Effect; set: SetFields }) {
  return choicesOfEffect(effect).map(([name, choice, value]) => {
    const change = (next: unknown) => set({ [name]: next });
    switch (choice.of) {
      case 'line':
        return <DrawnLine key={name} line={choice} points={value as Point[]} onChange={change} />;
      case 'pattern':
        return <Pattern key={name} label={choice.label} steps={value as boolean[]} onChange={change} />;
      case 'bands':
        return effect.kind === 'equalizer' && <EqualizerBands key={name} effect={effect} set={set} />;
      default:
        return null;
    }
  });
}

interface DrawnLineProps {
  line: Pick<Line, 'label' | 'x' | 'y'>;
  points: Point[];
  onChange: (points: Point[]) => void;
}

/** A line that is drawn with points: levels over a stretch of time, or output over input. */
export function DrawnLine({ line: { label, x, y }, points, onChange }: DrawnLineProps) {
  const overTime = x[0] === 0;
  const axis = overTime ? percentAxis : plainAxis;
  return (
    <PointEditor
      points={points}
      label={label}
      x={axis(x)}
      y={axis(y)}
      fixedEnds
      maxPoints={MOST_POINTS}
      onChange={onChange}
    />
  );
}

/** Steps of a bar in sixteenths, four a beat. */
function Pattern({
  label,
  steps,
  onChange,
}: {
  label: string;
  steps: boolean[];
  onChange: (steps: boolean[]) => void;
}) {
  return (
    <div className="flex gap-1 py-2" role="group" aria-label={label}>
      {steps.map((struck, step) => (
        <button
          key={step}
          type="button"
          aria-label={`Sixteenth ${step + 1}`}
          aria-pressed={struck}
          className={`figures h-6 grow border border-base-300 text-[11px] ${step % 4 === 0 && step > 0 ? 'ml-2' : ''} ${
            struck ? 'bg-patch text-base-100' : 'text-soft'
          }`}
          onClick={() => onChange(steps.with(step, !struck))}
        >
          {step % 4 === 0 ? step / 4 + 1 : ''}
        </button>
      ))}
    </div>
  );
}
