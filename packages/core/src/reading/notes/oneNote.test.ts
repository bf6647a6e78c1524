import { times, voices, withEchoes } from '../../../test/effects';
import { doubtsOf } from '../traits';
import { readTone } from '../read';
import { some, thorough } from '../../../test/thorough';

const RATE_HZ = 44100;
const read = (signal: ArrayLike<number>) => readTone({ channels: [Float32Array.from(signal)], sampleRateHz: RATE_HZ });

/** Plucks of one pitch at given times and levels. */
function plucks(at: readonly number[], levels: readonly number[]): Float64Array {
  const tone = voices({ f0Hz: 165, seconds: 2.5 });
  const struck = (t: number) => Math.min(1, t / 0.004) * Math.exp(-9 * t);
  return times(tone, (t) => at.reduce((sum, start, i) => sum + (t < start ? 0 : levels[i] * struck(t - start)), 0));
}

describe('What is one note', () => {
  some(1).it.each([
    [90, 7.5, 60],
    [213, 4.3, 96],
    [815, 4.3, 113],
  ])('a tone of %d Hz with a vibrato of %d Hz and %d cents, at the middle of its turns', (f0Hz, rateHz, depthCents) => {
    const index = (f0Hz * (2 ** (depthCents / 1200) - 1)) / rateHz;
    const tone = voices({
      f0Hz,
      seconds: 2.4,
      cycles: (t) => (-index / 2 / Math.PI) * Math.cos(2 * Math.PI * rateHz * t),
    });
    const { notes, traits } = read(times(tone, (t) => Math.min(1, t / 0.02, (2.4 - t) / 0.05)));
    expect(notes).toHaveLength(1);
    expect(Math.abs(traits.pitch.vibrato!.depthCents / depthCents - 1)).toBeLessThan(0.05);
    expect(Math.abs(1200 * Math.log2(traits.pitch.f0Hz! / f0Hz))).toBeLessThan(4);
  });

  some(1).it.each([
    [156, 0.5, 0.6],
    [199, 0.2, 0.6],
    [440, 0.18, 0.4],
    [91, 0.41, 0.5],
    [250, 0.33, 0.3],
    [247, 0.206, 0.35],
    [330, 0.22, 0.3],
  ])('a pluck of %d Hz with loud echoes, which are told: %d s, feedback %d', (f0Hz, seconds, feedback) => {
    const tone = times(voices({ f0Hz, seconds: 4 }), (t) => Math.min(1, t / 0.004) * Math.exp(-9 * t));
    const { notes, traits } = read(withEchoes(tone, seconds, 0.6, feedback));
    expect(notes).toHaveLength(1);
    expect(traits.space.echo!.seconds).toBeCloseTo(seconds, 2);
    expect(traits.space.echo!.feedback).toBeCloseTo(feedback, 1);
  });

  thorough.it('but not notes of one pitch that are struck again, as loud or apart by other times', () => {
    expect(read(plucks([0.05, 0.55, 1.05, 1.55], [1, 1, 1, 1])).notes).toHaveLength(4);
    expect(read(plucks([0.05, 0.55, 0.85, 1.6], [1, 0.8, 0.6, 0.45])).notes).toHaveLength(4);
  });
});

describe('Doubts', () => {
  const note = read(times(voices({ f0Hz: 220, seconds: 1.5 }), (t) => Math.min(1, t / 0.01)));

  it('say why a group is not sure, and nothing of groups that are', () => {
    expect(note.doubts.pitch).toBeUndefined();
    expect(note.doubts.brightness).toContain('a darker source would sound the same');
    expect(note.doubts.space).toContain('the end of the note is not in the cut');
  });

  it('say so when notes overlap', () => {
    const overlapping = [0, 0.1].map((onsetSeconds, i) => ({
      onsetSeconds,
      durationSeconds: 1,
      midi: 57 + 4 * i,
      cents: 0,
      levelDb: -20,
    }));
    const { pitch, partials } = note.traits;
    const traits = { ...note.traits, pitch: { ...pitch, confidence: 0.3 }, partials: { ...partials, confidence: 0.3 } };
    const doubts = doubtsOf({ ...note, notes: overlapping, traits });
    expect(doubts.pitch).toBe('notes overlap');
    expect(doubts.partials).toContain('notes overlap');
  });
});
