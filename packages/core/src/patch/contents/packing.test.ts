import { createHash } from 'node:crypto';
import { bytesFromBase64 } from './base64';
import { emptyPatch } from '../defaults';
import { MAX_NAME, fittingName, isStorable } from '../names';
import { base64sOf, contentsOf, packPatch, unpackPatch } from './packing';
import { parsePackedPatch, parsePatch } from '../parse';
import { sampleFromChannels } from './samplePcm';
import { wavetableFromSamples } from './wavetableFrames';

const contentOf = (base64: string) => {
  const bytes = bytesFromBase64(base64);
  return { sha256: createHash('sha256').update(bytes).digest('hex'), byteLength: bytes.length };
};

describe('A packed patch', () => {
  const patch = emptyPatch('Large');
  const wave = Float32Array.from({ length: 4096 }, (_, i) => Math.sin(i / 50));
  patch.wavetables.push(wavetableFromSamples('table-1', 'Two frames', wave));
  patch.samples.push(sampleFromChannels('sample-1', 'Hit', 44100, [wave, wave]));
  const packed = packPatch(patch, contentOf);

  it('holds no bytes and is the same patch when it is unpacked', () => {
    expect(JSON.stringify(packed)).not.toContain('Base64');
    const bytes = new Map(base64sOf(patch).map((base64) => [contentOf(base64).sha256, base64]));
    expect(contentsOf(packed).map(({ byteLength }) => byteLength)).toEqual([4096 * 4, 4096 * 2 * 2]);
    const unpacked = unpackPatch(packed, (sha256) => bytes.get(sha256)!);
    expect(unpacked).toEqual(patch);
    expect(parsePatch(unpacked)).toEqual(patch);
    expect(parsePackedPatch(packed)).toEqual(packed);
  });

  it('is refused like any other when it cannot play, or when its bytes are too few', () => {
    const short = structuredClone(packed);
    short.wavetables[0].frames.byteLength = 100;
    expect(() => parsePackedPatch(short)).toThrow('holds 100 bytes; 2 frames of 2048 floats are 16384');
    const odd = structuredClone(packed);
    odd.samples[0].pcm.byteLength = 7;
    expect(() => parsePackedPatch(odd)).toThrow('no whole number of 16-bit frames');
    const lost = structuredClone(packed);
    lost.layers[0].sources = [{ ...lost.layers[0].sources[0], kind: 'wavetable', wavetableId: 'none' } as never];
    expect(() => parsePackedPatch(lost)).toThrow('which the patch does not hold');
  });
});

describe('Names', () => {
  it.each([
    ['  Sea \t wall\n', 'Sea wall'],
    ['', 'Untitled'],
    ['\u0000\u202e', 'Untitled'],
    ['half \ud83d a pair', 'half a pair'],
    ['🌊'.repeat(100), `${'🌊'.repeat(59)}…`],
  ])('made of %j fit', (text, name) => {
    const made = fittingName(text, 'Untitled');
    expect(made).toBe(name);
    expect(made.length).toBeLessThanOrEqual(MAX_NAME);
    expect(isStorable(made)).toBe(true);
  });
});
