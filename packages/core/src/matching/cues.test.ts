import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { decodeAudio } from '../formats/decode';
import { parsePatch } from '../patch/parse';
import { sliceAudio } from '../reading/audio';
import { compareTones } from './comparison';
import { matchTone } from './match';
import { printProof } from './proof';
import { thorough } from '../../test/thorough';

const folder = join(import.meta.dirname, '../../../../demo/audio');
// The other two take longest, and say the same.
const cues = ['lantern-stairs', 'gull-over-rail'];

/** More of a note says the same. */
const MOST_SECONDS = 1.4;

interface Settings {
  exposed: { fromSeconds: number; toSeconds: number };
  melody: { midi: number; seconds: number }[];
}

async function rebuilt(id: string) {
  const settings = JSON.parse(readFileSync(join(folder, `${id}.settings.json`), 'utf8')) as Settings;
  const audio = await decodeAudio(new Uint8Array(readFileSync(join(folder, `${id}.flac`))));
  const { fromSeconds, toSeconds } = settings.exposed;
  const cut = sliceAudio(audio, fromSeconds, Math.min(toSeconds, fromSeconds + MOST_SECONDS));
  const { candidates, notes, reading } = await matchTone(cut, { name: id, renders: 100, othersBeyondJnd: 3 });
  const [{ patch }] = candidates;
  const reference = { audio: cut, reading };
  return { id, settings, reference, patch, notes, reading, proof: printProof(patch, notes, reference) };
}

thorough.describe('Short matches of cues, played by Chromium’s Web Audio nodes', () => {
  let all: Awaited<ReturnType<typeof rebuilt>>[];
  beforeAll(async () => {
    all = [];
    for (const id of cues) all.push(await rebuilt(id));
  });

  it.each(cues)('%s is near, and nearer to its own cue by far', (id) => {
    const own = all.find((cue) => cue.id === id)!;
    expect(own.proof.comparison.overallJnd).toBeLessThan(3.5);
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
