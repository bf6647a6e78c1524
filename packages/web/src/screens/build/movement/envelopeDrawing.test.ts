import { parametersOf } from '@imprint/core/parameters/table';
import { compileEnvelope, envelopeValue } from '@imprint/core/patch/envelopeCurve';
import { emptyPatch } from '@imprint/core/patch/defaults';
import type { Envelope } from '@imprint/core/patch/schema';
import { bendStage, drawEnvelope, moveStage, stages } from './envelopeDrawing';

const envelope: Envelope = {
  ...emptyPatch().layers[0].amp,
  delaySeconds: 0.02,
  attackSeconds: 0.05,
  holdSeconds: 0.1,
  decaySeconds: 0.4,
  sustainDb: -6,
  releaseSeconds: 1.5,
};

describe('The drawing of an envelope', () => {
  const { points, curve, bends } = drawEnvelope(envelope);

  it('goes through its points from left to right, and ends in silence', () => {
    for (let i = 1; i < curve.length; i++) expect(curve[i].x).toBeGreaterThanOrEqual(curve[i - 1].x);
    expect(points.map(({ y }) => Number(y.toFixed(3)))).toEqual([0, 1, 1, 0.501, 0]);
    for (const point of points.slice(0, 3)) expect(curve).toContainEqual(point);
    expect(curve.at(-1)).toEqual(points[4]);
  });

  it('has the levels that are played', () => {
    const program = compileEnvelope(envelope);
    const [attack, decay, release] = bends;
    expect(attack.y).toBeCloseTo(envelopeValue(program, 0.045), 9);
    expect(decay.y).toBeCloseTo(envelopeValue(program, 0.37), 9);
    expect(release.y).toBeCloseTo(envelopeValue(program, 10.75, 10), 1);
  });

  it('is as wide for a millisecond as can be grasped, and wider for more', () => {
    const quick = drawEnvelope({ ...envelope, attackSeconds: 0.001 }).points;
    const none = drawEnvelope({ ...envelope, attackSeconds: 0 }).points;
    expect(none[1].x - none[0].x).toBeGreaterThan(0.02);
    expect(quick[1].x).toBeGreaterThan(none[1].x);
    expect(points[1].x).toBeGreaterThan(quick[1].x);
  });

  it.each(stages.map((stage, index) => [stage, index] as const))(
    'moving the end of %s changes that alone',
    (stage, index) => {
      const same = moveStage(envelope, index, points[index]);
      expect(same[stage]).toBeCloseTo(envelope[stage], 3);
      const longer = moveStage(envelope, index, { ...points[index], x: points[index].x + 0.1 });
      expect(longer[stage]).toBeGreaterThan(envelope[stage]);
      expect(Object.keys(longer)).toEqual(stage === 'decaySeconds' ? [stage, 'sustainDb'] : [stage]);
      expect(moveStage(envelope, index, { x: -1, y: 0.5 })[stage]).toBe(0);
      expect(moveStage(envelope, index, { x: 99, y: 0.5 })[stage]).toBe(parametersOf('envelope')[stage].max);
    },
  );

  it('the end of the decay sets the sustain by its height, down to silence', () => {
    const at = (y: number) => moveStage(envelope, 3, { x: points[3].x, y }).sustainDb;
    expect(at(0.5)).toBeCloseTo(-6, 1);
    expect(at(1.04)).toBe(0);
    expect(at(0)).toBe(-96);
  });

  it('bends no stage that has no length or goes nowhere', () => {
    const flat = { ...envelope, attackSeconds: 0, sustainDb: 0, releaseSeconds: 0 };
    expect(drawEnvelope(flat).bends).toEqual([]);
    expect(bendStage('attack', 0.5)).toEqual({ attackCurve: 0 });
  });
});
