import { createRandom } from '../../../test/signals';
import { kernel } from '../../dsp/kernel/kernel';
import { BLOCK_SAMPLES } from '../sources/source';
import { SECTION, createSections, runSection, section } from './stateVariable';
import { stereoSections } from './stereoSections';

it('the kernel takes a whole block at a time', () => {
  expect(kernel.MOST.value).toBeGreaterThanOrEqual(BLOCK_SAMPLES);
});

describe('Sections of both sides at once', () => {
  const noise = (seed: number) => {
    const random = createRandom(seed);
    return Float64Array.from({ length: BLOCK_SAMPLES }, () => random());
  };

  it.each([false, true])('put out what those of one side do, moving: %s', (moving) => {
    const at = new Float64Array(2 * SECTION);
    const next = new Float64Array(2 * SECTION);
    section.lowpass(at, 0, 0.1, 0.5);
    section.peak(at, 1, 0.3, 1.4, 2);
    section.lowpass(next, 0, 0.2, 0.7);
    section.peak(next, 1, 0.1, 1.1, 0.5);
    const step = next.map((value, c) => (moving ? (value - at[c]) / BLOCK_SAMPLES : 0));
    const past = stereoSections.create(2);
    const states = [createSections(2), createSections(2)];
    for (let block = 0; block < 3; block++) {
      const sides = [noise(2 * block), noise(2 * block + 1)];
      const [left, right] = sides.map((side) => side.slice());
      stereoSections.take(left, right);
      stereoSections.run(past, 2, at, step, moving);
      stereoSections.give(left, right);
      sides.forEach((side, c) => {
        for (let s = 0; s < 2; s++) runSection(states[c], s, side, 0, BLOCK_SAMPLES, at, step, moving);
        side.forEach((x, i) => expect([left, right][c][i]).toBeCloseTo(x, 10));
      });
    }
  });
});
