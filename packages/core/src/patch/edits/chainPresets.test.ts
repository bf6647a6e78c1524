import { chainOf as runner, sineOf } from '../../../test/chains';
import { createRandom, rms } from '../../../test/signals';
import { addPreset, chainPresets, hasRoomFor } from './chainPresets';
import { chainOf } from './chains';
import { emptyPatch } from '../defaults';
import { parsePatch } from '../parse';

const owner = { of: 'layer', id: 'layer-1' } as const;

describe.each(chainPresets.map((preset) => [preset.name, preset] as const))('%s', (_, preset) => {
  const [patch, first] = addPreset(emptyPatch(), owner, preset);
  const effects = chainOf(patch, owner);

  it('is a valid chain that keeps what it was told', () => {
    expect(parsePatch(JSON.parse(JSON.stringify(patch)))).toEqual(patch);
    expect(effects[0].id).toBe(first);
    effects.forEach((effect, i) => expect(effect).toMatchObject(preset.effects[i]));
  });

  it('changes a tone, within 9 dB of its level and under full scale', () => {
    const random = createRandom(2);
    const tone = sineOf(146.8, 2, 0.2).map(
      (x, i) => x + 0.1 * Math.sin((i * 2 * Math.PI * 880) / 48000) + 0.02 * random(),
    );
    const [left] = runner(...effects).run(tone);
    expect(Math.abs(20 * Math.log10(rms(left) / rms(tone)))).toBeLessThan(9);
    expect(Math.max(...left.map(Math.abs))).toBeLessThan(1);
    expect(rms(left.map((x, i) => x - tone[i]))).toBeGreaterThan(0.02 * rms(tone));
  });
});

it('a full chain has no room for one more', () => {
  let patch = emptyPatch();
  const preset = chainPresets[0];
  while (hasRoomFor(patch, owner, preset)) [patch] = addPreset(patch, owner, preset);
  expect(chainOf(patch, owner)).toHaveLength(16);
});
