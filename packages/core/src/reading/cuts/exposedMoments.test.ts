import { readFile } from 'node:fs/promises';
import { decodeAudio } from '../../formats/decode';
import { times, voices } from '../../../test/effects';
import { createRandom } from '../../../test/signals';
import { toMono } from '../audio';
import { exposedSteps } from './exposedMoments';
import { findOnsets } from '../notes/onsets';
import { finish } from '../steps';
import { some } from '../../../test/thorough';

const momentsOf = (mono: Float64Array, sampleRateHz: number) =>
  finish(exposedSteps(mono, sampleRateHz, findOnsets(mono, sampleRateHz)));

const demo = new URL('../../../../../demo/audio/', import.meta.url);

describe('Exposed moments', () => {
  // The stretches that the score leaves to the tone; the files hold drums and another part besides.
  some(1).it.each([
    ['lantern-stairs', 'bass'],
    ['gull-over-rail', 'lead'],
    ['harbour-fog', 'pad'],
    ['clockwork-tide', 'pluck'],
  ])('the best of %s is the %s that its score exposes', async (name, role) => {
    const audio = await decodeAudio(new Uint8Array(await readFile(new URL(`${name}.flac`, demo))));
    const { exposed } = JSON.parse(await readFile(new URL(`${name}.settings.json`, demo), 'utf8')) as {
      exposed: { fromSeconds: number; toSeconds: number };
    };
    const [best] = momentsOf(toMono(audio), audio.sampleRateHz);
    expect(best.role).toBe(role);
    expect(best.attack && best.tail).toBe(true);
    const shared = Math.min(best.toSeconds, exposed.toSeconds) - Math.max(best.fromSeconds, exposed.fromSeconds);
    expect(shared / (best.toSeconds - best.fromSeconds)).toBeGreaterThan(0.9);
  });

  it('finds the one note between drums, with its attack and its pitch', () => {
    const random = createRandom(2);
    const rate = 22050;
    const note = times(
      voices({ f0Hz: 196, seconds: 8, sampleRateHz: rate }),
      (t) => (t > 4 && t < 5.5 ? 1 : t >= 5.5 ? Math.exp(-12 * (t - 5.5)) : 0),
      rate,
    );
    const hits = note.map((_, i) => {
      const t = i / rate;
      const since = t < 3.8 || t > 6.5 ? t % 0.25 : 1;
      return 0.6 * (2 * random() - 1) * Math.exp(-30 * since);
    });
    const [best, ...others] = momentsOf(
      note.map((x, i) => x + (hits[i] > 1e-9 || hits[i] < -1e-9 ? hits[i] : 0)),
      rate,
    );
    expect(best.midi).toBe(55);
    expect(Math.abs(best.fromSeconds - 4)).toBeLessThan(0.12);
    expect(best.toSeconds).toBeGreaterThan(5.5);
    expect(others).toHaveLength(0);
  });

  it('finds nothing in noise and in silence', () => {
    const random = createRandom(3);
    const noise = Float64Array.from({ length: 3 * 22050 }, () => random() - 0.5);
    expect(momentsOf(noise, 22050)).toEqual([]);
    expect(momentsOf(new Float64Array(22050), 22050)).toEqual([]);
  });
});
