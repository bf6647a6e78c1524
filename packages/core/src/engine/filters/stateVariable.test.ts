import { CHAIN_RATE_HZ as RATE, click, responseDb } from '../../../test/chains';
import { biquadDb, cookbookBiquad } from '../../../test/cookbook';
import { createRandom } from '../../../test/signals';
import { SECTION, createSections, runSection, runTwoSections, section } from './stateVariable';

const FREQUENCIES = [30, 200, 900, 1000, 1100, 4000, 15000];

const gainOf = (hz: number) => Math.tan((Math.PI * hz) / RATE);

const NONE = new Float64Array(2 * SECTION);

describe('Two-pole sections at rest are the biquads of the Audio EQ Cookbook', () => {
  it.each([
    ['lowpass', 0.7, 0],
    ['lowpass', 8, 0],
    ['highpass', 2, 0],
    ['bandpass', 4, 0],
    ['notch', 1.5, 0],
    ['peak', 2, 9],
    ['peak', 2, -9],
    ['lowShelf', 0.7, 12],
    ['highShelf', 0.7, -6],
  ] as const)('%s, Q %d, %d dB, within 0.01 dB', (kind, q, gainDb) => {
    const at = new Float64Array(SECTION);
    section[kind](at, 0, gainOf(1000), 1 / q, 10 ** (gainDb / 40));
    const response = click(0.2);
    runSection(createSections(1), 0, response, 0, response.length, at, NONE, false);
    for (const hz of FREQUENCIES) {
      const wanted = biquadDb(cookbookBiquad(kind, { hz: 1000, q, gainDb, sampleRateHz: RATE }), hz, RATE);
      // A notch's bottom is as deep as the numbers allow.
      if (wanted > -120) expect(Math.abs(responseDb(response, hz) - wanted)).toBeLessThan(0.01);
    }
  });
});

describe('Sections that run', () => {
  const noise = () => Float64Array.from({ length: 2048 }, createRandom(5));

  it('two in one pass are the same as one after the other', () => {
    const at = new Float64Array(2 * SECTION);
    section.lowpass(at, 0, gainOf(800), 0.3);
    section.highpass(at, 1, gainOf(300), 1.1);
    const [together, apart] = [noise(), noise()];
    const [states, others] = [createSections(2), createSections(2)];
    for (const [from, to] of [
      [0, 700],
      [700, 2048],
    ]) {
      runTwoSections(states, together, from, to, at);
      for (const index of [0, 1]) runSection(others, index, apart, from, to, at, NONE, false);
    }
    expect(Math.max(...together.map((x, i) => Math.abs(x - apart[i])))).toBeLessThan(1e-12);
  });

  it('moving by nothing, are those at rest', () => {
    const at = new Float64Array(SECTION);
    section.peak(at, 0, gainOf(500), 0.5, 2);
    const [still, moving] = [noise(), noise()];
    runSection(createSections(1), 0, still, 0, still.length, at, NONE, false);
    runSection(createSections(1), 0, moving, 0, moving.length, at, NONE, true);
    expect(Math.max(...still.map((x, i) => Math.abs(x - moving[i])))).toBeLessThan(1e-12);
  });

  it('stay within bounds while a resonant cutoff runs from 50 Hz to 15 kHz in 10 ms', () => {
    const signal = noise().subarray(0, 480);
    const [at, step] = [new Float64Array(SECTION), new Float64Array(SECTION)];
    section.lowpass(at, 0, gainOf(50), 1 / 20);
    step[0] = (gainOf(15000) - gainOf(50)) / signal.length;
    runSection(createSections(1), 0, signal, 0, signal.length, at, step, true);
    expect(signal.every((x) => Math.abs(x) < 20)).toBe(true);
  });

  it('come to rest at exactly nothing after the sound', () => {
    const at = new Float64Array(SECTION);
    section.lowpass(at, 0, gainOf(2000), 1);
    const states = createSections(1);
    const signal = click(0.1);
    runSection(states, 0, signal, 0, signal.length, at, NONE, false);
    expect([...states]).toEqual([0, 0]);
  });
});
