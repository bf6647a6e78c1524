import { glidingLine } from '../../../test/glidingLine';
import { harmonicTone, saw } from '../../../test/signals';
import { roleByLength, suggestRole } from './cutRole';
import { readTone } from '../read';

const roleOf = (samples: Float32Array) => suggestRole(readTone({ channels: [samples], sampleRateHz: 44100 }));

const note = (seconds: number, envelope: (t: number) => number) =>
  harmonicTone({ f0Hz: 220, amplitude: saw, seconds, envelope });

describe('The role of a cut', () => {
  it('is a long or a short note by how long it sounds', () => {
    expect(roleOf(note(1.2, (t) => Math.min(1, t / 0.02) * (t < 1 ? 1 : 0)))?.role).toBe('long note');
    expect(roleOf(note(1, (t) => Math.min(1, t / 0.02) * (t < 0.2 ? 1 : Math.exp(-60 * (t - 0.2)))))?.role).toBe(
      'short note',
    );
  });

  it('is a tail when it begins at its loudest and only dies away', () => {
    expect(roleOf(note(1, (t) => Math.exp(-4 * t)))).toMatchObject({ role: 'tail', reason: expect.any(String) });
  });

  it('is a phrase when notes follow one another, which the reason counts', () => {
    const line = glidingLine({ midis: [57, 60, 64], noteSeconds: 0.4, glideSeconds: 0 });
    expect(roleOf(line)).toEqual({ role: 'phrase', reason: '3 notes or chords follow one another' });
  });

  it('is not suggested where nothing has a pitch; before it is measured its length decides', () => {
    expect(roleOf(new Float32Array(22050))).toBeUndefined();
    expect([0.3, 2].map(roleByLength)).toEqual(['short note', 'long note']);
  });
});
