import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { lowpassed, times, voices } from '../../test/effects';
import { decodeAudio } from '../formats/decode';
import { parsePatch } from '../patch/parse';
import { sliceAudio } from '../reading/audio';
import { firstPatch } from './firstPatch';
import { compareTones } from './comparison';
import { printProof } from './proof';

const folder = join(import.meta.dirname, '../../../../demo/audio');
const cues = ['lantern-stairs', 'gull-over-rail', 'harbour-fog', 'clockwork-tide'];

interface Settings {
  exposed: { fromSeconds: number; toSeconds: number };
  melody: { midi: number; seconds: number }[];
}

async function rebuilt(id: string) {
  const settings = JSON.parse(readFileSync(join(folder, `${id}.settings.json`), 'utf8')) as Settings;
  const audio = await decodeAudio(new Uint8Array(readFileSync(join(folder, `${id}.flac`))));
  const cut = sliceAudio(audio, settings.exposed.fromSeconds, settings.exposed.toSeconds);
  const first = firstPatch(cut, id);
  const reference = { audio: cut, reading: first.reading };
  return { id, settings, reference, ...first, proof: printProof(first.patch, first.notes, reference) };
}

describe('First patches of the four cues, played by Chromium’s Web Audio nodes', () => {
  let all: Awaited<ReturnType<typeof rebuilt>>[];
  beforeAll(async () => {
    all = [];
    for (const id of cues) all.push(await rebuilt(id));
  });

  it.each(cues)('%s is near, and the nearest of the four to its own cue by far', (id) => {
    // The click and the echoes of the clockwork are measured, and are not in a copy.
    const most = id === 'clockwork-tide' || id === 'lantern-stairs' ? 4 : 2.5;
    const own = all.find((cue) => cue.id === id)!;
    expect(own.proof.comparison.overallJnd).toBeLessThan(most);
    for (const other of all.filter((cue) => cue !== own)) {
      const foreign = compareTones(own.reference, other.proof).overallJnd;
      expect(foreign).toBeGreaterThan(2 * own.proof.comparison.overallJnd);
    }
  });

  it.each(cues)('%s holds the true note of the score', (id) => {
    const { notes, settings } = all.find((cue) => cue.id === id)!;
    const [first] = settings.melody;
    expect(notes).toHaveLength(1);
    // Also of the bass, which has a sine an octave under its saws.
    expect(notes[0].midi).toBe(first.midi);
    expect(Math.abs(notes[0].onsetSeconds + settings.exposed.fromSeconds - first.seconds)).toBeLessThan(0.02);
  });

  it.each(cues)('%s is a valid patch that prints as loud as the cut', (id) => {
    const { patch, reading, proof } = all.find((cue) => cue.id === id)!;
    expect(() => parsePatch(JSON.parse(JSON.stringify(patch)))).not.toThrow();
    expect(Math.abs(proof.reading.traits.loudness.lufs! - reading.traits.loudness.lufs!)).toBeLessThan(0.2);
  });
});

it('says so when there is no pitch to build on', () => {
  const silence = new Float32Array(44100);
  silence[100] = 1;
  expect(() => firstPatch({ channels: [silence], sampleRateHz: 44100 }, 'x')).toThrow('No pitch');
});

it('takes values set by hand in place of those measured', () => {
  const sound = times(
    voices({ f0Hz: 220, seconds: 2, amplitude: lowpassed(220, (t) => 500 * 2 ** (3 * Math.exp(-6 * t)), 24) }),
    (t) => 0.2 * Math.min(1, t / 0.01) * (t < 1.5 ? 1 : Math.exp(-30 * (t - 1.5))),
  );
  const audio = { channels: [Float32Array.from(sound)], sampleRateHz: 44100 };
  const measured = firstPatch(audio, 'x');
  const { cutoffHz } = measured.reading.traits.brightness;
  const byHand = {
    f0Hz: 110,
    attackSeconds: 0.2,
    releaseSeconds: 0.7,
    cutoffHz: 2 * cutoffHz!,
    resonanceDb: 6,
    voices: 5,
    detuneCents: 20,
  };
  const { patch, reading } = firstPatch(audio, 'x', undefined, {}, byHand);
  const [layer] = patch.layers;
  const [before] = measured.patch.layers;
  expect(reading).toEqual(measured.reading);
  expect(layer.amp).toMatchObject({ attackSeconds: 0.2, releaseSeconds: 0.7 });
  // The level is looked at through windows of the other pitch.
  expect(layer.amp.holdSeconds).toBeCloseTo(before.amp.holdSeconds, 2);
  expect(layer.filters[0]).toMatchObject({ resonanceDb: 6 });
  expect(layer.sources[0]).toMatchObject({ unisonVoices: 5, unisonDetuneCents: 20 });
  const cutoffOf = ([filter]: typeof layer.filters) => ('cutoffHz' in filter ? filter.cutoffHz : NaN);
  expect(cutoffOf(layer.filters) / cutoffOf(before.filters)).toBeCloseTo(2, 1);
});
