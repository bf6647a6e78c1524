import { GRADED_RATE_HZ, GRADES, bases, changes, printGraded } from '../../../test/gradedChanges';
import { logMelDistance, mfccDistance, spearman } from '../../../test/soundMeasures';
import { plainPatch } from '../../../test/patches';
import { renderPatch } from '../../engine/render';
import type { Audio } from '../../reading/audio';
import { readTone } from '../../reading/read';
import { heardOf } from '../comparison';
import { Listener, listeningDistance } from './listeningDistance';

const kinds = Object.keys(bases);
const references = Object.fromEntries(
  kinds.map((base) => {
    const audio = printGraded(base);
    const heard = heardOf(readTone(audio));
    return [base, { audio, heard, listener: new Listener(audio, heard) }];
  }),
);

/** Every grade of every change, printed and compared once. */
const graded = Object.fromEntries(
  kinds.map((base) => [
    base,
    Object.fromEntries(
      Object.keys(changes).map((change) => [
        change,
        GRADES.map((grade) => {
          const audio = printGraded(base, change, grade);
          return { audio, distance: references[base].listener.compare(audio).overallJnd };
        }),
      ]),
    ),
  ]),
);

const changed = (audio: Audio, change: (channel: Float32Array) => Float32Array): Audio => ({
  ...audio,
  channels: audio.channels.map(change),
});

describe.each(kinds)('Of a %s', (base) => {
  const { audio, heard, listener } = references[base];

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

  it.each(Object.keys(changes))('it rises with every grade of %s', (change) => {
    const distances = graded[base][change].map(({ distance }) => distance);
    expect(distances).toEqual([...distances].sort((a, b) => a - b));
    expect(new Set(distances).size).toBe(GRADES.length);
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

it('ranks as general-purpose measures do: log mel spectra, and MFCC by a feature library', () => {
  const pairs: [Audio, Audio, number][] = kinds.flatMap((base) => {
    const { audio, listener } = references[base];
    const others = kinds
      .filter((other) => other !== base)
      .map((other): [Audio, number] => [references[other].audio, listener.compare(references[other].audio).overallJnd]);
    const oddGrades = Object.values(graded[base]).flatMap((grades) =>
      grades.filter((_, i) => i % 2 === 0).map(({ audio: other, distance }): [Audio, number] => [other, distance]),
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

it('does not hear which run of noise or of free phases it is', () => {
  const free = plainPatch('saw', { unisonVoices: 7, unisonDetuneCents: 25, startPhaseRandom: 100, unisonSpread: 50 });
  free.layers[0].filters[0] = { ...free.layers[0].filters[0], on: true, cutoffHz: 2500 } as never;
  const notes = [{ onsetSeconds: 0.02, durationSeconds: 1.8, midi: 57, velocity: 100 }];
  const [first, ...others] = [1, 2, 3, 4].map((seed) => ({
    channels: renderPatch({ patch: free, notes, sampleRateHz: GRADED_RATE_HZ, seconds: 2.2, seed }),
    sampleRateHz: GRADED_RATE_HZ,
  }));
  const heard = heardOf(readTone(first));
  for (const other of others) expect(listeningDistance(first, other, heard).overallJnd).toBeLessThan(0.5);
});
