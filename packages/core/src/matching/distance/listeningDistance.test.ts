import { GRADED_RATE_HZ, GRADES, bases, changes, printGraded } from '../../../test/gradedChanges';
import { logMelDistance, mfccDistance, spearman } from '../../../test/soundMeasures';
import { plainPatch } from '../../../test/patches';
import { createRandom } from '../../../test/signals';
import { renderPatch } from '../../engine/render';
import type { Audio } from '../../reading/audio';
import type { Patch } from '../../patch/schema';
import { readTone } from '../../reading/read';
import { heardOf } from '../comparison';
import { type HeardOf, Listener, listeningDistance } from './listeningDistance';
import { some, thorough } from '../../../test/thorough';

const kinds = Object.keys(bases);
const references = new Map<string, { audio: Audio; heard: HeardOf; listener: Listener }>();
/** The tone of a kind, and one that listens to it. */
function referenceOf(base: string) {
  if (!references.has(base)) {
    const audio = printGraded(base);
    const heard = heardOf({ reading: readTone(audio) });
    references.set(base, { audio, heard, listener: new Listener(audio, heard) });
  }
  return references.get(base)!;
}

/** Grades of a change, printed and compared. */
const gradesOf = (base: string, change: string, grades: readonly number[] = GRADES) =>
  grades.map((grade) => {
    const audio = printGraded(base, change, grade);
    return { audio, distance: referenceOf(base).listener.compare(audio).overallJnd };
  });

const changed = (audio: Audio, change: (channel: Float32Array) => Float32Array): Audio => ({
  ...audio,
  channels: audio.channels.map(change),
});

some(2).describe.each(kinds)('Of a %s', (base) => {
  const { audio, heard, listener } = referenceOf(base);

  it('it is nothing to itself, and next to nothing at another gain or 50 ms later', () => {
    expect(listener.compare(audio).overallJnd).toBe(0);
    for (const gain of [0.25, 4])
      expect(listener.compare(changed(audio, (channel) => channel.map((x) => gain * x))).overallJnd).toBeLessThan(0.02);
    const later = changed(audio, (channel) => {
      const longer = new Float32Array(channel.length + 0.05 * GRADED_RATE_HZ);
      longer.set(channel, 0.05 * GRADED_RATE_HZ);
      return longer;
    });
    expect(listeningDistance(audio, later, heard).overallJnd).toBeLessThan(0.2);
  });

  some(3).it.each(Object.keys(changes))('it rises with every grade of %s', (change) => {
    const distances = gradesOf(base, change).map(({ distance }) => distance);
    expect(distances).toEqual([...distances].sort((a, b) => a - b));
    expect(new Set(distances).size).toBe(GRADES.length);
  });
});

describe('Among other sounds', () => {
  const { audio, heard } = referenceOf('lead');
  const random = createRandom(8);
  // Hits of noise, and what a mask makes of them: a part of each stays, a part of the tone goes with it.
  const hits = Float32Array.from(audio.channels[0], (_, i) => {
    const since = (i / GRADED_RATE_HZ) % 0.25;
    return 0.6 * (random() - 0.5) * Math.exp(-since / 0.03);
  });
  const share = (i: number) => 0.3 * Math.exp(-((i / GRADED_RATE_HZ) % 0.25) / 0.03);
  const kept = changed(audio, (channel) => channel.map((x, i) => x * (1 - share(i)) + share(i) * hits[i]));
  const leftOut = changed(audio, (channel) => channel.map((x, i) => x * share(i) + (1 - share(i)) * hits[i]));
  const alone = new Listener(kept, heard);
  const among = new Listener(kept, { ...heard, surroundings: leftOut });

  it('what they cover does not count', () => {
    expect(alone.compare(audio).overallJnd).toBeGreaterThan(3);
    expect(among.compare(audio).overallJnd).toBeLessThan(0.3 * alone.compare(audio).overallJnd);
    expect(among.compare(kept).overallJnd).toBeLessThan(0.05);
  });

  it('what they leave does', () => {
    for (const change of ['cutoff', 'pitch', 'attack', 'drive']) {
      const distances = [3, 5].map((grade) => among.compare(printGraded('lead', change, grade)).overallJnd);
      expect(distances[0]).toBeGreaterThan(among.compare(audio).overallJnd);
      expect(distances[1]).toBeGreaterThan(distances[0]);
    }
  });

  it('at any level of either', () => {
    const at = (gain: number, sound: Audio) => changed(sound, (channel) => channel.map((x) => gain * x));
    const softer = new Listener(at(0.25, kept), { ...heard, surroundings: at(0.25, leftOut) });
    expect(softer.compare(at(3, audio)).overallJnd).toBeCloseTo(among.compare(audio).overallJnd, 1);
  });

  it('silence around a tone is nothing', () => {
    const silence = changed(audio, (channel) => new Float32Array(channel.length));
    const still = new Listener(kept, { ...heard, surroundings: silence });
    expect(still.compare(audio)).toEqual(alone.compare(audio));
  });
});

it('does not hear at which rate a sound is kept', () => {
  const patch = plainPatch('saw');
  patch.layers[0].filters[0] = { ...patch.layers[0].filters[0], on: true, cutoffHz: 1500 } as never;
  const notes = [{ onsetSeconds: 0.05, durationSeconds: 0.8, midi: 48, velocity: 100 }];
  const [a, b, c] = [44100, 48000, 96000].map((sampleRateHz) => ({
    channels: renderPatch({ patch, notes, sampleRateHz, seconds: 1 }),
    sampleRateHz,
  }));
  for (const other of [b, c]) expect(listeningDistance(a, other).overallJnd).toBeLessThan(0.3);
  expect(listeningDistance(c, a).overallJnd).toBeLessThan(0.3);
});

thorough.it('ranks as general-purpose measures do: log mel spectra, and MFCC by a feature library', () => {
  const pairs: [Audio, Audio, number][] = kinds.flatMap((base) => {
    const { audio, listener } = referenceOf(base);
    const others = kinds
      .filter((other) => other !== base)
      .map((other): [Audio, number] => [
        referenceOf(other).audio,
        listener.compare(referenceOf(other).audio).overallJnd,
      ]);
    const oddGrades = Object.keys(changes).flatMap((change) =>
      gradesOf(base, change, [1, 3, 5]).map(({ audio: other, distance }): [Audio, number] => [other, distance]),
    );
    return [...others, ...oddGrades].map(([other, distance]): [Audio, Audio, number] => [audio, other, distance]);
  });
  const ours = pairs.map(([, , distance]) => distance);
  // Voices whose beats are chance count for less with us than with a measure that takes them as they come.
  expect(
    spearman(
      ours,
      pairs.map(([a, b]) => logMelDistance(a, b)),
    ),
  ).toBeGreaterThan(0.8);
  expect(
    spearman(
      ours,
      pairs.map(([a, b]) => mfccDistance(a, b)),
    ),
  ).toBeGreaterThan(0.8);
});

it.each(['bass', 'pad'])('what chance excuses of a %s never counts for more than it does without', (base) => {
  const { audio, heard, listener } = referenceOf(base);
  expect(heard.freeVoices).toBeDefined();
  const strict = new Listener(audio, { ...heard, freeVoices: undefined });
  for (const change of ['noise', 'cutoff', 'drive', 'attack']) {
    const other = printGraded(base, change, 5);
    const without = strict.compare(other).overallJnd;
    // Levels are made even by other bands.
    expect(listener.compare(other).overallJnd).toBeLessThan(1.2 * without);
    expect(without).toBeGreaterThan(4);
  }
});

it('does not hear which run of noise or of free phases it is, but whether anything beats', () => {
  const free = plainPatch('saw', { unisonVoices: 7, unisonDetuneCents: 25, startPhaseRandom: 100, unisonSpread: 50 });
  free.layers[0].filters[0] = { ...free.layers[0].filters[0], on: true, cutoffHz: 2500 } as never;
  const notes = [{ onsetSeconds: 0.02, durationSeconds: 1.8, midi: 57, velocity: 100 }];
  const played = (patch: Patch, seed: number) => ({
    channels: renderPatch({ patch, notes, sampleRateHz: GRADED_RATE_HZ, seconds: 2.2, seed }),
    sampleRateHz: GRADED_RATE_HZ,
  });
  const [first, ...others] = [1, 2, 3, 4].map((seed) => played(free, seed));
  const heard = heardOf({ reading: readTone(first) });
  for (const other of others) expect(listeningDistance(first, other, heard).overallJnd).toBeLessThan(0.5);
  const still = structuredClone(free);
  Object.assign(still.layers[0].sources[0], { unisonVoices: 1, startPhaseRandom: 0 });
  expect(listeningDistance(first, played(still, 1), heard).parts.flutter).toBeGreaterThan(1.5);
});
