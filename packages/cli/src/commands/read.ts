import { noteName } from '@imprint/core/dsp/pitch';
import { readTone } from '@imprint/core/reading/read';
import { printJson, print, readSound } from '../files';

export async function read(file: string, options: { from?: number; to?: number; json?: boolean }): Promise<void> {
  const reading = readTone(await readSound(file, options));
  if (options.json) {
    printJson(reading);
    return;
  }
  const { pitch, loudness, brightness, partials } = reading.traits;
  const show = (value: number | null, unit: string, digits = 1) =>
    value === null ? 'not found' : `${value.toFixed(digits)} ${unit}`;
  print(
    `${reading.durationSeconds.toFixed(2)} s, ${reading.channels} channel(s), ${reading.sampleRateHz} Hz, ${reading.notes.length} note(s)`,
    `Pitch       ${show(pitch.f0Hz, 'Hz', 2)}${pitch.midi === null ? '' : `, ${noteName(pitch.midi)} ${show(pitch.cents, 'cents')}`}`,
    `Loudness    ${show(loudness.lufs, 'LUFS')}, attack ${show(loudness.attackSeconds, 's', 3)}, decay ${show(loudness.decaySeconds, 's', 2)}, sustain ${show(loudness.sustainDb, 'dB')}, release ${show(loudness.releaseSeconds, 's', 2)}`,
    `Brightness  centroid ${show(brightness.centroidHz, 'Hz', 0)}, cutoff ${show(brightness.cutoffHz, 'Hz', 0)}`,
    `Partials    nearest shape ${partials.nearestShape ?? 'not found'}, tilt ${show(partials.tiltDbPerOctave, 'dB per octave')}`,
  );
}
