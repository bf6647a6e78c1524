import { CHAIN_RATE_HZ, chainOf, chainWithin, click, effect, responseDb, sineOf } from '../../../../test/chains';
import { amplitudeAt, createRandom, decibels } from '../../../../test/signals';

const noise = (seconds: number) => {
  const random = createRandom(9);
  return new Float64Array(Math.round(seconds * CHAIN_RATE_HZ)).map(() => random() - 0.5);
};
const rms = (signal: Float64Array, from = 0) =>
  Math.sqrt(signal.subarray(from).reduce((sum, x) => sum + x * x, 0) / (signal.length - from));

describe('The phaser', () => {
  it.each([2, 6, 12, 24])(
    '%d stages make half as many notches, where the phases of first-order all-passes say',
    (stages) => {
      const fields = { stages, centreHz: 2000, spreadOctaves: 0, feedback: 0, depthOctaves: 0, mix: 50 };
      const [out] = chainOf(effect('phaser', fields)).run(click(0.5));
      const warped = (hz: number) => Math.tan((Math.PI * hz) / CHAIN_RATE_HZ);
      for (let k = 0; k < stages / 2; k++) {
        // All-passes in a row turn by −2·atan(f/fc) each: notches where that comes to an odd multiple of π.
        const ratio = Math.tan(((2 * k + 1) * Math.PI) / (2 * stages));
        const hz = (CHAIN_RATE_HZ / Math.PI) * Math.atan(ratio * warped(2000));
        expect(responseDb(out, hz)).toBeLessThan(-40);
      }
      expect(responseDb(out, 1)).toBeCloseTo(0, 1);
    },
  );

  it('stands still without a depth, and stays bounded at the highest feedback', () => {
    const fields = { stages: 24, feedback: 99, depthOctaves: 0, mix: 100 };
    const [out] = chainOf(effect('phaser', fields)).run(noise(2));
    expect(rms(out)).toBeLessThan(12 * rms(noise(2)));
  });
});

describe('The flanger', () => {
  it('at rest has the teeth of its delay', () => {
    const fields = { delaySeconds: 0.001, depthSeconds: 0, feedback: 0, mix: 50 };
    const [out] = chainOf(effect('flanger', fields)).run(click(0.5));
    for (const hz of [500, 1500, 4500]) expect(responseDb(out, hz)).toBeLessThan(-40);
    for (const hz of [1000, 2000, 5000]) expect(responseDb(out, hz)).toBeCloseTo(0, 1);
  });
});

describe('The resonator', () => {
  it.each([
    [110, 0, false],
    [220, 50, false],
    [440, 70, false],
    [220, 30, true],
  ])('rings at the note, %d Hz, damped by %d %%, hollow: %s', (noteHz, damping, hollow) => {
    const around = { noteHz, layer: () => undefined };
    const fields = { decaySeconds: 1, damping, hollow };
    const [out] = chainWithin(around, effect('resonator', fields)).run(click(2));
    const at = (cents: number) => responseDb(out.subarray(4800), noteHz * 2 ** (cents / 1200));
    expect(at(0)).toBeGreaterThan(at(8));
    expect(at(0)).toBeGreaterThan(at(-8));
    expect(responseDb(out, 2 * noteHz) < responseDb(out, noteHz) - 20).toBe(hollow);
  });

  it.each([0.3, 1, 3])('falls by 60 dB in %d s', (decaySeconds) => {
    const around = { noteHz: 220, layer: () => undefined };
    const [out] = chainWithin(around, effect('resonator', { decaySeconds, damping: 0 })).run(click(2));
    // Of the pitch itself: its partials fall sooner, since reading between samples weakens them a little
    // every round.
    const levelAfter = (seconds: number) => {
      const from = Math.round(seconds * CHAIN_RATE_HZ);
      return decibels(amplitudeAt(Float32Array.from(out.subarray(from, from + 4800)), CHAIN_RATE_HZ, 220));
    };
    const fall = levelAfter(0.1) - levelAfter(0.25);
    expect((60 * 0.15) / fall / decaySeconds).toBeCloseTo(1, 1);
  });
});

describe('The widener', () => {
  it('makes a mono sound wide, leaves its lows in the middle, and is as loud as before', () => {
    const [left, right] = chainOf(effect('widener', { monoBelowHz: 150, mix: 100 })).run(noise(3));
    const side = left.map((x, i) => (x - right[i]) / 2);
    const middle = left.map((x, i) => (x + right[i]) / 2);
    expect(decibels(rms(side) / rms(middle))).toBeGreaterThan(-8);
    expect(Math.abs(decibels(rms(left, 9600) / rms(noise(3))))).toBeLessThan(1);
    const [low, lowRight] = chainOf(effect('widener', { monoBelowHz: 150, mix: 100 })).run(sineOf(45, 2));
    const off = low.map((x, i) => (x - lowRight[i]) / 2);
    expect(decibels(rms(off, CHAIN_RATE_HZ) / rms(low, CHAIN_RATE_HZ))).toBeLessThan(-36);
  });
});

describe('What keeps its lows apart', () => {
  it('the ducker leaves what lies an octave over its cut alone, and takes all of what lies under it', () => {
    const curve = [
      { x: 0, y: 0 },
      { x: 1, y: 0 },
    ];
    for (const [depthDb, mix] of [
      [6, 100],
      [60, 50],
      [60, 100],
    ]) {
      const fields = { key: 'drawn', curve, belowHz: 120, depthDb, mix };
      const [out] = chainOf(effect('ducker', fields)).run(click(1));
      const ducked = decibels(1 - (mix / 100) * (1 - 10 ** (-depthDb / 20)));
      for (const hz of [240, 300, 480, 1000, 5000]) expect(Math.abs(responseDb(out, hz))).toBeLessThan(0.5);
      if (ducked > -50) expect(responseDb(out, 55)).toBeCloseTo(ducked, 1);
      else expect(responseDb(out, 55)).toBeLessThan(-45);
    }
  });

  it.each([100, 50])(
    'mono below leaves a hard-panned sound where it stands, an octave over it, at a mix of %d %%',
    (mix) => {
      const silent = new Float64Array(CHAIN_RATE_HZ);
      const [left, right] = chainOf(effect('stereo', { monoBelowHz: 150, mix })).run(click(1), silent);
      for (const hz of [300, 600, 2000]) {
        expect(Math.abs(responseDb(left, hz))).toBeLessThan(0.5);
        expect(responseDb(right, hz)).toBeLessThan(-30);
      }
      if (mix === 100) expect(responseDb(left, 60)).toBeCloseTo(responseDb(right, 60), 1);
    },
  );
});

describe('The vowel filter', () => {
  // First two formants of men's voices: Peterson & Barney 1952, table II.
  it.each([
    [0, 730, 1090],
    [50, 270, 2290],
    [100, 300, 870],
  ])('at %d %% has the formants of its vowel', (vowel, first, second) => {
    const [out] = chainOf(effect('vowelFilter', { vowel, resonanceDb: 24 })).run(click(0.5));
    for (const hz of [first, second]) {
      const around = [0.84, 1.19].map((ratio) => responseDb(out, hz * ratio));
      expect(responseDb(out, hz)).toBeGreaterThan(Math.min(...around));
    }
    expect(responseDb(out, first)).toBeGreaterThan(responseDb(out, 60) + 10);
  });
});

describe('The cabinet', () => {
  it('as a telephone lets 300 Hz to 3.4 kHz through (the band of telephony, ITU-T G.712)', () => {
    const [out] = chainOf(effect('cabinet', { cabinet: 'telephone', driveDb: 0 })).run(click(0.5).map((x) => x / 1000));
    const db = (hz: number) => responseDb(out, hz) + 60;
    expect(db(1000)).toBeGreaterThan(-3);
    expect(db(150)).toBeLessThan(db(1000) - 20);
    expect(db(8000)).toBeLessThan(db(1000) - 24);
  });

  it.each(['openBack', 'closedBack', 'smallSpeaker', 'horn'] as const)(
    '%s has no highs and no lowest lows',
    (cabinet) => {
      const [out] = chainOf(effect('cabinet', { cabinet, driveDb: 0 })).run(click(0.5).map((x) => x / 1000));
      expect(responseDb(out, 14000)).toBeLessThan(responseDb(out, 1000) - 18);
      expect(responseDb(out, 20)).toBeLessThan(responseDb(out, 1000) - 12);
    },
  );
});
