import { compileEnvelope, curveThrough, envelopeValue, stageEnds } from './envelopeCurve';

const program = compileEnvelope({
  attackSeconds: 0.1,
  holdSeconds: 0.2,
  decaySeconds: 0.3,
  sustainDb: -6.0206,
  releaseSeconds: 0.4,
});

describe('The time of a stage', () => {
  it.each([
    [100, 'to 5 % left', 'to −60 dB'],
    [50, 'to 2.5 % left', 'to −66 dB'],
    [0, 'all the way', 'to silence'],
    [-100, 'all the way', 'to silence'],
  ])('at a curve of %d %% ends at what is said', (curve, decay, release) => {
    const ends = stageEnds({ decayCurve: curve, releaseCurve: curve });
    expect(ends).toEqual({ decaySeconds: decay, releaseSeconds: release });
  });

  it('is what the envelope itself has then', () => {
    const times = { attackSeconds: 0, holdSeconds: 0, decaySeconds: 0.4, sustainDb: -96, releaseSeconds: 0.2 };
    const program = compileEnvelope(times);
    expect(envelopeValue(program, 0.4)).toBeCloseTo(0.05, 6);
    const sustained = compileEnvelope({ ...times, sustainDb: 0 });
    expect(20 * Math.log10(envelopeValue(sustained, 1.2, 1))).toBeCloseTo(-60, 6);
  });
});

describe('Envelope', () => {
  it.each([
    [-1, 0, 'silent before its note'],
    [0, 0, 'at the start'],
    [0.05, 0.5, 'halfway up a straight attack'],
    [0.1, 1, 'full at the end of the attack'],
    [0.29, 1, 'held'],
    [0.6, 0.525, '5 % of the way from its sustain when the decay is over'],
    [30, 0.5, 'at its sustain for good'],
  ])('at %f s is %f: %s', (seconds, value) => expect(envelopeValue(program, seconds)).toBeCloseTo(value, 3));

  it('is 60 dB down when the release is over, wherever it began', () => {
    for (const off of [0.05, 0.2, 0.5, 5]) {
      const before = envelopeValue(program, off);
      expect(envelopeValue(program, off + 0.4, off) / before).toBeCloseTo(0.001, 6);
    }
  });

  it('has no step at note-off', () => {
    expect(envelopeValue(program, 0.5, 0.5)).toBeCloseTo(envelopeValue(program, 0.5 - 1e-9), 6);
  });

  it.each(['attack', 'decay', 'release'] as const)('the curve of its %s can be told from its middle', (stage) => {
    for (const percent of [-100, -40, 0, 30, 100]) {
      const envelope = { attackSeconds: 1, holdSeconds: 0, decaySeconds: 1, sustainDb: -96, releaseSeconds: 1 };
      const bent = compileEnvelope({ ...envelope, [`${stage}Curve`]: percent });
      const middle = {
        attack: envelopeValue(bent, 0.5),
        decay: 1 - envelopeValue(bent, 1.5),
        release: 1 - envelopeValue(bent, 1.5, 1),
      };
      expect(100 * curveThrough(stage, middle[stage])).toBeCloseTo(percent, 6);
    }
    expect(curveThrough(stage, 0.999)).toBe(1);
    expect(curveThrough(stage, 0)).toBe(-1);
  });

  it('takes times of zero as at once', () => {
    const quick = compileEnvelope({
      attackSeconds: 0,
      holdSeconds: 0,
      decaySeconds: 0,
      sustainDb: -96,
      releaseSeconds: 0,
    });
    expect(envelopeValue(quick, 0)).toBe(0);
    expect(envelopeValue(quick, 1, 0.5)).toBe(0);
  });
});
