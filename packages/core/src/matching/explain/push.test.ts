import { evidenceOf } from '../../../test/made/evidence';
import { driven, level, shaped, sine, saw, tone } from '../../../test/made/parts';
import { DECAY_TAUS } from '../../patch/envelopeCurve';
import type { Curve } from './dirt';
import { patchMadeOf } from './made';
import { explainPush } from './push';
import { sine as sineOf } from './structures/single';
import { some, thorough } from '../../../test/thorough';

/** A sine whose level falls with a time constant to a rest, before a curve or behind it. */
const body = (tau: number, rest: number) =>
  shaped(
    tone({ seconds: 1.4, hz: 55, amplitude: sine }),
    level({ decay: tau, sustain: rest, off: 1.1, release: 0.05 }),
  );

function pushed(signal: Float64Array, kind: Curve) {
  const evidence = evidenceOf(signal.map((x) => 0.5 * x));
  const push = explainPush(evidence, kind);
  if (!push) return undefined;
  const [layer] = patchMadeOf([sineOf(evidence), push.hypothesis]).layers;
  const [envelope] = layer.modulators;
  return { ...push, driveDb: layer.shaper.driveDb, envelope: envelope?.kind === 'envelope' ? envelope : undefined };
}

describe('How far a sine is pushed into a curve', () => {
  some(1).it.each([
    ['soft', Math.tanh, 4, 0.3, 0.15],
    ['soft', Math.tanh, 8, 0.5, 0.3],
    ['fold', (x: number) => Math.sin((Math.PI / 2) * x), 2.5, 0.3, 0.1],
    ['fold', (x: number) => Math.sin((Math.PI / 2) * x), 1.6, 0.4, 0.2],
  ] as const)('is told by its partials: a %s curve', (kind, curve, gain, tau, rest) => {
    const told = pushed(
      driven(body(tau, rest), (x) => curve(gain * x)),
      kind,
    )!;
    // Frames of four periods blur the highest moment.
    expect(Math.abs(told.driveDb - 20 * Math.log10(gain))).toBeLessThan(1.5);
    expect(Math.abs(told.envelope!.sustainDb - 20 * Math.log10(rest))).toBeLessThan(1.5);
    expect(told.envelope!.decaySeconds / tau / DECAY_TAUS).toBeGreaterThan(0.75);
    expect(told.envelope!.decaySeconds / tau / DECAY_TAUS).toBeLessThan(1.33);
  });

  it('is told behind a pitch that falls, whose frames say nothing', () => {
    const boom = shaped(
      tone({ seconds: 1.4, hz: 44, amplitude: sine, semitones: (t) => 24 * Math.exp(-t / 0.02) }),
      (t) => Math.exp(-t / 0.5),
    );
    const told = pushed(
      driven(boom, (x) => Math.tanh(3 * x)),
      'soft',
    )!;
    expect(Math.abs(told.driveDb - 20 * Math.log10(3))).toBeLessThan(2);
    expect(told.envelope!.decaySeconds / 0.5 / DECAY_TAUS).toBeGreaterThan(0.75);
    expect(told.envelope!.decaySeconds / 0.5 / DECAY_TAUS).toBeLessThan(1.33);
  });

  thorough.it('dies away before the curve, or behind it', () => {
    const before = pushed(
      driven(body(0.3, 0.3), (x) => Math.tanh(5 * x)),
      'soft',
    )!;
    expect(before.releaseSeconds).not.toBeNull();
    const held = tone({ seconds: 1.4, hz: 55, amplitude: sine });
    const after = pushed(
      shaped(
        driven(
          shaped(held, (t) => 0.3 + 0.7 * Math.exp(-t / 0.3)),
          (x) => Math.tanh(5 * x),
        ),
        level({ off: 1.1, release: 0.05 }),
      ),
      'soft',
    )!;
    expect(after.releaseSeconds).toBeNull();
  });

  some(1).it.each([
    ['a saw', saw],
    ['a sine and its octave', (n: number) => (n === 1 ? 1 : n === 2 ? 0.5 : 0)],
    ['a sine and a high one', (n: number) => (n === 1 ? 1 : n === 7 ? 0.3 : 0)],
  ])('is not told of %s, which no such curve makes of a sine', (_, amplitude) => {
    const falls = shaped(tone({ seconds: 1.4, hz: 110, amplitude }), level({ decay: 0.3, sustain: 0.1, off: 1.1 }));
    expect(pushed(falls, 'soft')).toBeUndefined();
    expect(pushed(falls, 'fold')).toBeUndefined();
  });
});
