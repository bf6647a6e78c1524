import midi from '@tonejs/midi';
import Ajv2020 from 'ajv/dist/2020';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import wavefile from 'wavefile';
import { createRandom } from '../../test/signals';
import { randomPatch } from '../../test/patches';
import { emptyPatch } from '../patch/defaults';
import { patchJsonSchema } from '../patch/jsonSchema';
import { parsePatch } from '../patch/parse';
import { wavetableFromSamples } from '../patch/wavetableFrames';
import { readMidiFile, writeMidiFile } from './midi';
import { writeRecipe } from './recipe';
import { writeWavetable } from './wavetable';

const notes = [
  { onsetSeconds: 0.25, durationSeconds: 0.5, midi: 45, velocity: 100 },
  { onsetSeconds: 0.75, durationSeconds: 1.25, midi: 45, velocity: 64 },
  { onsetSeconds: 1, durationSeconds: 0.1, midi: 60, velocity: 1 },
];

describe('Standard MIDI File', () => {
  it.each([120, 96, 133.7])('at %f BPM is read by another library as it was written', (bpm) => {
    const { tracks, header } = new midi.Midi(writeMidiFile(notes, bpm));
    expect(header.tempos[0].bpm).toBeCloseTo(bpm, 2);
    const read = tracks[0].notes;
    expect(read).toHaveLength(3);
    notes.forEach((note, i) => {
      expect(read[i].midi).toBe(note.midi);
      expect(read[i].time).toBeCloseTo(note.onsetSeconds, 2);
      expect(read[i].duration).toBeCloseTo(note.durationSeconds, 2);
      expect(Math.round(127 * read[i].velocity)).toBe(note.velocity);
    });
  });

  it('comes back as it went, tempo changes followed', () => {
    const read = readMidiFile(writeMidiFile(notes, 96));
    read.forEach((note, i) => expect(note.onsetSeconds).toBeCloseTo(notes[i].onsetSeconds, 2));
  });

  it('says what is no MIDI file, and what holds no notes', () => {
    expect(() => readMidiFile(Uint8Array.of(1, 2, 3))).toThrow('not a Standard MIDI File');
    expect(() => readMidiFile(writeMidiFile([]))).toThrow('no notes');
  });
});

it('a wavetable is a plain WAV of 2048-sample frames, read by the library wavefile', () => {
  const random = createRandom(2);
  const samples = Float32Array.from({ length: 3 * 2048 }, () => 2 * random() - 1);
  const file = new wavefile.WaveFile(writeWavetable(wavetableFromSamples('t', 'Table', samples)));
  expect(file.bitDepth).toBe('32f');
  const read = file.getSamples(false, Float32Array) as unknown as Float32Array;
  expect(Array.from(read)).toEqual(Array.from(samples));
});

describe('Patch as JSON', () => {
  const validate = new Ajv2020({ strict: false, formats: { base64: true } }).compile(patchJsonSchema());
  it('fits the published JSON Schema, by the library ajv', () => {
    const random = createRandom(4);
    for (let i = 0; i < 20; i++) {
      const patch: unknown = JSON.parse(JSON.stringify(randomPatch(random)));
      expect(validate(patch)).toBe(true);
      expect(parsePatch(patch)).toEqual(patch);
    }
  });
  it('is refused by it when a value is out of range', () => {
    const patch = emptyPatch();
    patch.layers[0].levelDb = 1e6;
    expect(validate(patch)).toBe(false);
  });
  it('has a schema in the documentation that is the present one', () => {
    const published = JSON.parse(
      readFileSync(join(import.meta.dirname, '../../../../docs/patch.schema.json'), 'utf8'),
    ) as unknown;
    expect(published).toEqual(JSON.parse(JSON.stringify(patchJsonSchema())));
  });
});

it('a recipe names every step in real units', () => {
  const patch = emptyPatch('Lamp');
  patch.layers[0].routes[0].amount = 24;
  Object.assign(patch.layers[0].filters[0], { cutoffHz: 350 });
  const text = writeRecipe(patch, notes);
  expect(text).toContain('# Lamp');
  expect(text).toContain('cutoff at rest 350 Hz');
  expect(text).toContain('moving low-pass, cutoff at rest (unipolar: from 0 to +24 st)');
  expect(text).toContain('A2 at 250 ms for 500 ms, velocity 100');
});
