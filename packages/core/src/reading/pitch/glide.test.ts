import { glidingLine } from '../../../test/glidingLine';
import { lines, renderLine } from '../../../test/lines';
import { findSlides, glideOf, withoutPassing } from './glide';
import { trackPitch } from './pitchTrack';
import { thorough } from '../../../test/thorough';

const RATE_HZ = 44100;

function slidesOf(samples: Float32Array) {
  const mono = Float64Array.from(samples);
  return findSlides(mono, RATE_HZ, trackPitch(mono, RATE_HZ));
}

describe('Glide between the notes of a line', () => {
  it.each([
    { midis: [45, 48, 52, 45], noteSeconds: 0.5, glideSeconds: 0.05 },
    { midis: [45, 48, 52, 45], noteSeconds: 0.5, glideSeconds: 0.1 },
    { midis: [57, 60, 64, 57], noteSeconds: 0.6, glideSeconds: 0.2 },
    { midis: [33, 36, 31, 38], noteSeconds: 0.5, glideSeconds: 0.08 },
    { midis: [69, 72, 76, 69], noteSeconds: 0.4, glideSeconds: 0.06 },
    { midis: [57, 69, 57, 64], noteSeconds: 0.6, glideSeconds: 0.15 },
  ])('from $midis.0 on, of $glideSeconds s: within 10 %', (line) => {
    const slides = slidesOf(glidingLine(line));
    expect(Math.abs(glideOf(slides)! / line.glideSeconds - 1)).toBeLessThan(0.1);
    // The middle of the way is half a glide after the note was struck.
    slides.forEach(({ middleSeconds }, i) => {
      expect(Math.abs(middleSeconds - (i + 1) * line.noteSeconds - line.glideSeconds / 2)).toBeLessThan(0.015);
    });
  });

  it.each([
    [45, 48, 52, 45],
    [33, 36, 31, 38],
  ])('is not claimed where the pitch steps from %d on', (...midis) => {
    expect(glideOf(slidesOf(glidingLine({ midis, noteSeconds: 0.5, glideSeconds: 0 })))).toBeUndefined();
  });

  thorough.it('is not claimed of lines whose notes overlap or follow one another at once', () => {
    for (const line of lines) expect(glideOf(slidesOf(renderLine(line).audio))).toBeUndefined();
  });

  it('notes that are only passed belong to the way', () => {
    const note = { cents: 0, levelDb: -20 };
    const found = [
      { onsetSeconds: 0, durationSeconds: 0.6, midi: 57, ...note },
      { onsetSeconds: 0.62, durationSeconds: 0.06, midi: 60, ...note },
      { onsetSeconds: 0.75, durationSeconds: 0.5, midi: 64, ...note },
    ];
    const slide = { fromMidi: 57, toMidi: 64, middleSeconds: 0.66, seconds: 0.2 };
    const [first, second, ...others] = withoutPassing(found, [slide]);
    expect(others).toEqual([]);
    expect(first.durationSeconds).toBeCloseTo(0.66, 5);
    expect(second).toMatchObject({ midi: 64, onsetSeconds: 0.66 });
    expect(second.durationSeconds).toBeCloseTo(0.59, 5);
  });
});
