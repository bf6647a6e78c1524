import { useMemo } from 'react';
import { formatValue } from '@imprint/core/parameters/format';
import { parametersOf } from '@imprint/core/parameters/table';
import type { EnvelopeTimes } from '@imprint/core/patch/envelopeCurve';
import type { Envelope } from '@imprint/core/patch/schema';
import type { Reading } from '@imprint/core/reading/schema';
import { PointEditor } from '../../../drawing/PointEditor';
import { LEVELS, bendStage, drawEnvelope, moveStage, stageAxis, stages } from './envelopeDrawing';

/** Widths at which the picture's scale changes: it must not move under the pointer. */
const SCALE_STEP = 0.8;
const SCALE_ROOM = 1.04;

interface EnvelopeShapeProps {
  envelope: Envelope;
  /** The contour that was measured, drawn behind it. */
  measured?: EnvelopeTimes;
  onChange: (fields: Partial<Envelope>) => void;
}

/** An envelope drawn by the ends of its stages and by how they are bent; times as roots. */
export function EnvelopeShape({ envelope, measured, onChange }: EnvelopeShapeProps) {
  const drawing = useMemo(() => drawEnvelope(envelope), [envelope]);
  const { points, curve, bends } = drawing;
  const reference = useMemo(() => (measured ? drawEnvelope(measured).curve : []), [measured]);
  const last = Math.max(points.at(-1)!.x, reference.at(-1)?.x ?? 0);
  const right = SCALE_STEP * Math.max(2, Math.ceil((SCALE_ROOM * last) / SCALE_STEP));
  const parameters = parametersOf('envelope');
  const describe = (_: unknown, i: number) => {
    const stage = stages[i];
    const time = `${parameters[stage].label} ${formatValue(envelope[stage], 's')}`;
    return stage === 'decaySeconds' ? `${time} to ${formatValue(envelope.sustainDb, 'dB')}` : time;
  };
  return (
    <PointEditor
      label={`Stages of ${envelope.name}`}
      points={points}
      curve={curve}
      reference={reference}
      x={stageAxis(drawing, 0, [0, right])}
      axisOf={(index) => stageAxis(drawing, index, [0, right])}
      readOut={({ y }) => LEVELS.text(y)}
      y={LEVELS}
      maxPoints={points.length}
      describe={describe}
      onMove={(index, to) => onChange(moveStage(envelope, index, to))}
      bends={bends.map(({ stage, ...bend }) => ({
        ...bend,
        title: `Bend of the ${stage}`,
        onBend: (share) => onChange(bendStage(stage, share)),
      }))}
    />
  );
}

/** The fitted contour of the reference, once there is one. */
export function measuredTimes({ traits: { loudness } }: Reading): EnvelopeTimes | undefined {
  const { attackSeconds, holdSeconds, decaySeconds, sustainDb, releaseSeconds } = loudness;
  if (attackSeconds === null || decaySeconds === null || sustainDb === null) return undefined;
  return {
    attackSeconds,
    holdSeconds: holdSeconds ?? 0,
    decaySeconds,
    sustainDb,
    releaseSeconds: releaseSeconds ?? 0.05,
  };
}
