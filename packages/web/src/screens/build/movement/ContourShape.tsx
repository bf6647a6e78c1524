import type { Contour, Layer } from '@imprint/core/patch/schema';
import { formatValue } from '@imprint/core/parameters/format';
import { PaintEditor } from '../../../drawing/PaintEditor';
import { PointEditor } from '../../../drawing/PointEditor';
import { axisIn } from '../../../drawing/axis';
import { usePatchStore } from '../../../stores/patchStore';
import { firstRouteOf, routedAxis } from './routedAxis';

/** Contours of few points are drawn by them, long measured ones are painted. */
const HANDLED_POINTS = 48;
/** Room behind the last point to draw on. */
const ROOM = 1.1;
const LEAST_SECONDS = 0.1;

interface ContourShapeProps {
  layer: Layer;
  contour: Contour;
  onChange: (fields: Partial<Contour>) => void;
}

/** A line over the note, told as what it makes of the first thing that it moves. */
export function ContourShape({ layer, contour, onChange }: ContourShapeProps) {
  const patch = usePatchStore((state) => state.patch)!;
  const { points } = contour;
  const axis = routedAxis(firstRouteOf(patch, layer, contour.id), [-1, 1]);
  if (points.length > HANDLED_POINTS) {
    return (
      <PaintEditor
        as="line"
        label="Contour over the note"
        values={points.map(({ value }) => value)}
        axis={axis}
        place={(i) => `at ${formatValue(points[i]?.seconds ?? 0, 's')}`}
        onChange={(values) => onChange({ points: points.map((point, i) => ({ ...point, value: values[i] })) })}
      />
    );
  }
  return (
    <PointEditor
      label="Contour over the note"
      points={points.map(({ seconds, value }) => ({ x: seconds, y: value }))}
      x={axisIn('s', [0, Math.max(LEAST_SECONDS, ROOM * points[points.length - 1].seconds)])}
      y={axis}
      maxPoints={HANDLED_POINTS}
      onChange={(edited) => onChange({ points: edited.map(({ x, y }) => ({ seconds: x, value: y })) })}
    />
  );
}
