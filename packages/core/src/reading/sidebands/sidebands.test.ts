import { fmTone, level, noise, pulse, saw, shaped, square, tone, triangle, voicesOf } from '../../../test/made/parts';
import { madeTone } from '../../../test/made/tones';
import { createRandom } from '../../../test/signals';
import { some } from '../../../test/thorough';
import { findFundamental } from '../pitch/fundamental';
import { trackPitch } from '../pitch/pitchTrack';
import { findLines } from '../spectra/lines';
import { findSidebands } from './sidebands';

const RATE = 44100;
const SPAN = [0.01, 1] as const;

function sidebandsOf(signal: Float64Array) {
  return findSidebands(signal, RATE, findFundamental(signal, RATE, trackPitch(signal, RATE)), SPAN);
}

describe('Lines of a spectrum', () => {
  it('are found within 0.2 Hz and 0.5 dB, and no side lobes beside them', () => {
    const wanted = [
      [220, 0],
      [310.3, -12],
      [1207.7, -30],
      [5003.2, -44],
    ] as const;
    const signal = Float64Array.from({ length: RATE }, (_, i) =>
      wanted.reduce((sum, [hz, db]) => sum + 10 ** (db / 20) * Math.sin((2 * Math.PI * hz * i) / RATE + hz), 0),
    );
    const { lines } = findLines(signal, RATE, 0, 1);
    expect(lines).toHaveLength(wanted.length);
    lines.forEach(({ hz, levelDb }, i) => {
      expect(Math.abs(hz - wanted[i][0])).toBeLessThan(0.2);
      expect(Math.abs(levelDb - wanted[i][1])).toBeLessThan(0.5);
    });
  });

  it('are not found in noise', () => {
    const { lines } = findLines(noise(1, createRandom(3)), RATE, 0, 1);
    expect(lines.length).toBeLessThan(5);
  });
});

describe('Two sines of which one moves the phase of the other (Chowning 1973)', () => {
  some(1).it.each([
    [220, 1.414, 1.2],
    [196, 1.21, 2.5],
    [311.1, 2.37, 1],
    [110, 3.47, 3],
    [440, 0.61, 0.8],
  ])('%d Hz, ratio %d, index %d that falls: all within 1 %%, the index within 0.15', (hz, ratio, index) => {
    const falls = (t: number) => index * Math.exp(-t / 0.8);
    const { fm } = sidebandsOf(
      shaped(fmTone(1.2, hz, ratio, falls), level({ attack: 0.003, decay: 0.7, sustain: 0.2 })),
    );
    expect(Math.abs(fm!.carrierHz / hz - 1)).toBeLessThan(0.01);
    expect(Math.abs(fm!.ratio / ratio - 1)).toBeLessThan(0.01);
    for (const { seconds, radians } of fm!.index) expect(Math.abs(radians - falls(seconds))).toBeLessThan(0.15);
  });

  some(1).it.each([
    ['goes through the zero of a sideband', 247, 1.374, 3.3, 0.7],
    ['is gone soon', 415, 3.476, 1.7, 0.22],
    ['makes partials of a period that leave gaps', 392, 2.5, 2.4, 0.3],
    ['makes partials of another', 294, 1.5, 3, 0.45],
  ])('whose index %s', (_name, hz, ratio, index, fallSeconds) => {
    const { fm } = sidebandsOf(
      shaped(
        fmTone(2, hz, ratio, (t) => index * Math.exp(-t / fallSeconds)),
        (t) => Math.exp(-t / 0.5),
      ),
    );
    expect(Math.abs(fm!.carrierHz / hz - 1)).toBeLessThan(0.002);
    expect(Math.abs(fm!.ratio / ratio - 1)).toBeLessThan(0.002);
  });

  it('are told wherever the cut begins', () => {
    const bell = shaped(
      fmTone(2, 220, 1.37, (t) => 2.4 * Math.exp(-t / 0.7)),
      level({ attack: 0.003, decay: 0.8, sustain: 0.1 }),
    );
    for (const from of [0.003, 0.0045, 0.006])
      expect(sidebandsOf(bell.slice(Math.round(from * RATE))).fm!.ratio).toBeCloseTo(1.37, 3);
  });

  some(1).it.each([
    ['a saw', tone({ seconds: 1.2, hz: 110 })],
    ['a square', tone({ seconds: 1.2, hz: 82, amplitude: square })],
    ['a pulse without every third partial', tone({ seconds: 1.2, hz: 98, amplitude: pulse(1 / 3) })],
    ['sines at one and one', fmTone(1.2, 98, 1, () => 3)],
    ['sines at one and two', fmTone(1.2, 147, 2, () => 2)],
    ['two voices', voicesOf({ seconds: 1.2, hz: 110 }, [-13, 13], createRandom(2))],
    // Its lines fit a carrier midway between two multiples of a modulator.
    ['a square through a resonance', Float64Array.from(madeTone('resonant square', 777).channels[0])],
    ['a chord', tone({ seconds: 1.2, hz: 220 }).map((x, i) => x + Math.sin((2 * Math.PI * 277.2 * i) / RATE))],
  ])('are not told of %s', (_name, signal) => {
    expect(sidebandsOf(signal).fm).toBeUndefined();
  });
});

describe('A tone multiplied by a sine', () => {
  some(1).it.each([
    ['saw', 294, 43, saw],
    ['triangle', 523.3, 130.8, triangle],
    ['square', 196, 31, square],
  ] as const)('%s at %d Hz, rung at %d Hz: both within 0.5 %%, partials gone', (_name, hz, rate, amplitude) => {
    const rung = shaped(tone({ seconds: 1.2, hz, amplitude }), (t) => Math.sin(2 * Math.PI * rate * t));
    const { ring } = sidebandsOf(rung);
    expect(Math.abs(ring!.f0Hz / hz - 1)).toBeLessThan(0.005);
    expect(Math.abs(ring!.rateHz / rate - 1)).toBeLessThan(0.005);
    expect(ring!.sidebandsDb).toBeNull();
  });

  it('with its level moved by 60 %: sidebands 10.5 dB under the partials', () => {
    const moved = shaped(tone({ seconds: 1.2, hz: 262 }), (t) => 1 + 0.6 * Math.sin(2 * Math.PI * 37 * t));
    const { ring } = sidebandsOf(moved);
    expect(ring!.rateHz).toBeCloseTo(37, 0);
    // Half of the depth to either side: 20·log10(0.3).
    expect(Math.abs(ring!.sidebandsDb! + 10.5)).toBeLessThan(0.5);
  });

  it('is not told of plain tones and of voices', () => {
    for (const signal of [
      tone({ seconds: 1.2, hz: 131 }),
      tone({ seconds: 1.2, hz: 131, amplitude: square }),
      voicesOf({ seconds: 1.2, hz: 165 }, [-8, 0, 8], createRandom(4)),
    ])
      expect(sidebandsOf(signal).ring).toBeUndefined();
  });
});
