import { emptyPatch } from '../patch/defaults';
import { effectSchema } from '../patch/schemas/effectSchema';
import type { Effect, Patch } from '../patch/schema';
import { MOST_RING_SECONDS, renderToEnd, ringSeconds } from './render';

const RATE = 44100;
const note = [{ onsetSeconds: 0, durationSeconds: 0.5, midi: 57, velocity: 100 }];

function patchWith(effects: Effect[], releaseSeconds = 0.05): Patch {
  const patch = emptyPatch();
  const [layer] = patch.layers;
  return { ...patch, layers: [{ ...layer, amp: { ...layer.amp, releaseSeconds } }], effects };
}

const reverb = (rt60Seconds: number) =>
  effectSchema.parse({ kind: 'reverb', id: 'effect-1', mix: 50, rt60Seconds, preDelaySeconds: 0 });
const loudest = (signal: Float32Array) => signal.reduce((most, x) => Math.max(most, Math.abs(x)), 0);

describe('A print to its end', () => {
  it('goes on for the release and not much longer', () => {
    const [left, right] = renderToEnd({ patch: patchWith([], 0.4), notes: note, sampleRateHz: RATE });
    expect(left.length).toBe(right.length);
    expect(left.length / RATE).toBeGreaterThan(0.7);
    expect(left.length / RATE).toBeLessThan(1);
  });

  // A room's decay is told by its RT60: 60 dB in that time (ISO 3382-1).
  it.each([0.6, 4])('lets a room of %d s die away', (rt60Seconds) => {
    const [left] = renderToEnd({ patch: patchWith([reverb(rt60Seconds)]), notes: note, sampleRateHz: RATE });
    const rings = left.length / RATE - 0.5;
    // The room is softer than the tone, so it is over a little before 60 dB under the tone's peak.
    expect(rings).toBeGreaterThan(0.5 * rt60Seconds);
    expect(rings).toBeLessThan(1.3 * rt60Seconds);
    const end = 20 * Math.log10(loudest(left.slice(-Math.round(0.02 * RATE))) / loudest(left));
    expect(end).toBeLessThan(-50);
  });

  it('counts a group and the patch after the layer, and stops after a minute', () => {
    const single = ringSeconds(patchWith([reverb(2)]));
    const patch = patchWith([reverb(2)]);
    const grouped: Patch = {
      ...patch,
      groups: [{ id: 'group-1', name: 'Both', effects: [reverb(3)] }],
      layers: patch.layers.map((layer) => ({ ...layer, groupId: 'group-1' })),
    };
    expect(ringSeconds(grouped)).toBeGreaterThan(single + 3);
    const endless = effectSchema.parse({ kind: 'delay', id: 'effect-1', mix: 50, feedback: 99, leftSeconds: 1.9 });
    expect(ringSeconds(patchWith([endless]))).toBe(MOST_RING_SECONDS);
  });
});
