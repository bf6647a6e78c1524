import { useMemo, useState } from 'react';
import { bendThrough, compileLfo, shapeAt } from '@imprint/core/engine/modulators/lfo';
import { formatValue } from '@imprint/core/parameters/format';
import { lfoShapeTitles } from '@imprint/core/parameters/shapes';
import type { Layer, Lfo } from '@imprint/core/patch/schema';
import type { Bend } from '../../../drawing/BendHandle';
import { PointEditor } from '../../../drawing/PointEditor';
import { amountAxis, percentAxis, turnAxis } from '../../../drawing/axis';
import { editModule, usePatchStore } from '../../../stores/patchStore';
import { Choice } from '../editor/Editor';
import { type FirstRoute, firstRouteOf, routedAxis } from './routedAxis';

const TURN_POINTS = 200;
const NO_SLOTS = { rateHz: 0, startPhaseCycles: 0, delaySeconds: 0, fadeInSeconds: 0, smoothing: 0 };
const MAX_POINTS = 64;
const QUARTERS = [0.25, 0.5, 0.75].map((at) => ({ at, text: turnAxis.text(at) }));
const HALVES = [0.5].map((at) => ({ at, text: percentAxis([0, 1]).text(at) }));

interface LfoShapeProps {
  layer: Layer;
  lfo: Lfo;
  onChange: (fields: Partial<Lfo>) => void;
}

/** One turn of an LFO, told as what it makes of the first thing that it moves. */
export function LfoShape({ layer, lfo, onChange }: LfoShapeProps) {
  const patch = usePatchStore((state) => state.patch)!;
  const first = firstRouteOf(patch, layer, lfo.id);
  const curve = useMemo(() => turnOf(lfo), [lfo]);
  return (
    <>
      <div className="flex items-center justify-between">
        <Choice label="Shape" value={lfo.shape} titles={lfoShapeTitles} onChange={(shape) => onChange({ shape })} />
        {first && <span className="text-2xs text-soft">{first.title}</span>}
      </div>
      {lfo.shape === 'drawn' ? (
        <PointEditor
          label="One turn of the LFO"
          points={lfo.points.map(({ at, value, bend }) => ({ x: at, y: value, bend }))}
          curve={curve}
          x={turnAxis}
          y={routedAxis(first, [0, 1])}
          marks={QUARTERS}
          maxPoints={MAX_POINTS}
          onChange={(points) => onChange({ points: points.map(({ x, y, bend = 0 }) => ({ at: x, value: y, bend })) })}
          bends={bendsOf(lfo, onChange)}
        />
      ) : (
        <Turn layer={layer} lfo={lfo} curve={curve} first={first} onChange={onChange} />
      )}
    </>
  );
}

const turnOf = (lfo: Lfo) => {
  const program = compileLfo(lfo, 120, NO_SLOTS);
  return Array.from({ length: TURN_POINTS }, (_, i) => ({
    x: i / TURN_POINTS,
    y: shapeAt(program, i / TURN_POINTS, 1),
  }));
};

type Curve = readonly { x: number; y: number }[];

/**
 * A turn with handles on where it starts and on how far it goes, which is the amount of its first route; the
 * picture's scale stays while they are dragged.
 */
function Turn({ layer, lfo, curve, first, onChange }: LfoShapeProps & { curve: Curve; first?: FirstRoute }) {
  const amount = first?.route.amount ?? 0;
  const [reach, setReach] = useState(() => roomFor(amount));
  if (Math.abs(amount) > reach || Math.abs(amount) < reach / 25) {
    const next = roomFor(amount);
    if (next !== reach) setReach(next);
  }
  const bipolar = first?.route.polarity === 'bipolar';
  const levelToPlace = (level: number) => (first ? amount * (bipolar ? 2 * level - 1 : level) : level);
  const crest = curve.reduce((highest, point) => (point.y > highest.y ? point : highest));
  const start = curve[Math.round(lfo.startPhaseCycles * TURN_POINTS) % TURN_POINTS];
  const handles = [{ x: lfo.startPhaseCycles, y: levelToPlace(start.y) }];
  if (first) handles.push({ x: crest.x, y: amount });
  return (
    <PointEditor
      label="One turn of the LFO"
      points={handles}
      curve={curve.map(({ x, y }) => ({ x, y: levelToPlace(y) }))}
      x={turnAxis}
      y={first ? amountAxis(first.unit, [-reach, reach], 1, 0) : percentAxis([0, 1])}
      maxPoints={handles.length}
      marks={QUARTERS}
      marksY={first ? [-reach / 2, reach / 2].map((at) => ({ at, text: formatValue(at, first.unit) })) : HALVES}
      describe={(_, i) =>
        i === 0
          ? `Start phase ${formatValue(lfo.startPhaseCycles, 'cycles')}`
          : `Depth ${formatValue(amount, first!.unit)}`
      }
      onMove={(i, to) => {
        if (i === 0) onChange({ startPhaseCycles: Math.round(100 * Math.min(1, Math.max(0, to.x))) / 100 });
        else editModule(layer.id, first!.route.id, { amount: Number(to.y.toPrecision(3)) });
      }}
    />
  );
}

/** A round number with room above an amount. */
function roomFor(amount: number): number {
  const wanted = 1.3 * Math.max(1e-3, Math.abs(amount));
  const decade = 10 ** Math.floor(Math.log10(wanted));
  return decade * [1, 2, 5, 10].find((step) => decade * step >= wanted)!;
}

/** Stretches flatter than this have nothing to bend. */
const LEAST_RISE = 0.02;

/** The stretches between the points of a drawn turn, the last of which leads over to the first. */
function bendsOf(lfo: Lfo, onChange: (fields: Partial<Lfo>) => void): Bend[] {
  const program = compileLfo(lfo, 120, NO_SLOTS);
  return lfo.points.flatMap(({ at, value }, i) => {
    const over = i === lfo.points.length - 1;
    const next = lfo.points[over ? 0 : i + 1];
    if (Math.abs(next.value - value) < LEAST_RISE) return [];
    const x = ((at + next.at + (over ? 1 : 0)) / 2) % 1;
    return {
      x,
      y: shapeAt(program, x, 1),
      from: value,
      to: next.value,
      title: `Bend behind point ${i + 1}`,
      onBend: (share) =>
        onChange({
          points: lfo.points.map((point, n) =>
            n === i ? { ...point, bend: Math.round(100 * bendThrough(share)) } : point,
          ),
        }),
    };
  });
}
