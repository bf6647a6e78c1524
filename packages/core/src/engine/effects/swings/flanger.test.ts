import { chainOf, click, effect, responseDb } from '../../../../test/chains';

describe('The flanger', () => {
  it('at rest has the teeth of its delay', () => {
    const fields = { delaySeconds: 0.001, depthSeconds: 0, feedback: 0, mix: 50 };
    const [out] = chainOf(effect('flanger', fields)).run(click(0.5));
    for (const hz of [500, 1500, 4500]) expect(responseDb(out, hz)).toBeLessThan(-40);
    for (const hz of [1000, 2000, 5000]) expect(responseDb(out, hz)).toBeCloseTo(0, 1);
  });
});
