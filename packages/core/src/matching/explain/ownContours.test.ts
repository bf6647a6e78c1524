import { scaled } from '../../../test/made/madeTone';
import {
  MADE_RATE_HZ,
  falling,
  hzOf,
  level,
  mixed,
  shaped,
  sine,
  square,
  tone,
  twoPole,
} from '../../../test/made/parts';
import { DECAY_TAUS } from '../../patch/envelopeCurve';
import type { Envelope, Layer } from '../../patch/schema';
import { gatherEvidence } from '../evidence';
import { patchMadeOf } from './made';
import { explainOwnContours } from './ownContours';
import { some } from '../../../test/thorough';

function explained(signal: Float64Array): { layer: Layer; why: string[] } {
  const channels = [Float32Array.from(signal, (x) => 0.3 * x)];
  const hypotheses = explainOwnContours(gatherEvidence({ channels, sampleRateHz: MADE_RATE_HZ }));
  const [layer] = patchMadeOf(hypotheses).layers;
  return { layer, why: hypotheses.map(({ why }) => why) };
}

const HZ = hzOf(57);
const body = (tau: number) =>
  shaped(tone({ seconds: 1.4, hz: HZ, amplitude: sine }), level({ decay: tau, sustain: 0 }));

describe('A bite over a body', () => {
  const bite = shaped(tone({ seconds: 1.4, hz: HZ, amplitude: square, phase: 0.2 }), (t) => 0.5 * Math.exp(-t / 0.04));
  const { layer, why } = explained(mixed(body(0.25), shaped(bite, level({ attack: 0.002 }))));

  it('is told as a source that dies away by itself', () => {
    const bites = layer.sources.filter(({ name }) => name === 'square bite');
    expect(layer.sources.map(({ name }) => name).sort()).toEqual(['sine', 'square bite']);
    expect(layer.routes.map(({ to }) => to)).toEqual([{ moduleId: bites[0].id, parameter: 'letThrough' }]);
    expect(why.join()).toContain('a square dies away within');
  });

  it('has its own decay, and the body the other', () => {
    const [own] = layer.modulators as Envelope[];
    // Against a body that falls by e in 0.25 s, one that does in 0.04 s does in 1 / (1 / 0.04 − 1 / 0.25).
    const tau = 1 / (1 / 0.04 - 1 / 0.25);
    expect(own.decaySeconds / (DECAY_TAUS * tau)).toBeCloseTo(1, 1);
    expect(layer.amp.decaySeconds / (DECAY_TAUS * 0.25)).toBeCloseTo(1, 1);
  });
});

it('A harmonic that is faded in has an attack of its own', () => {
  const third = shaped(tone({ seconds: 1.4, hz: 3 * HZ, amplitude: sine }), (t) => 0.4 * Math.min(1, t / 0.5));
  const steady = mixed(tone({ seconds: 1.4, hz: HZ, amplitude: sine }), third);
  const { layer } = explained(shaped(steady, level({ off: 1.2 })));
  const [own] = layer.modulators as Envelope[];
  expect(own.attackSeconds).toBeGreaterThan(0.45);
  expect(own.attackSeconds).toBeLessThan(0.55);
  expect(layer.amp.attackSeconds).toBeLessThan(0.02);
});

some(2).it.each([
  ['a saw over a sub', mixed(tone({ seconds: 1.2, hz: HZ }), tone({ seconds: 1.2, hz: HZ / 2, amplitude: sine }))],
  ['a saw behind a filter that falls', twoPole(tone({ seconds: 1.2, hz: HZ }), 'low', falling(5000, 400, 0.2), 0.9)],
  ['a sine that dies', body(0.2)],
  ['a square', scaled(tone({ seconds: 1.2, hz: HZ, amplitude: square }), 0.7)],
])('is not claimed of %s', (_, signal) => {
  expect(explained(shaped(signal, level({ off: 1 }))).why).toEqual([]);
});
