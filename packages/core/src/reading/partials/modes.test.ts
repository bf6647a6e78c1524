import { createRandom } from '../../../test/signals';
import { measureModes } from './modes';

const RATE_HZ = 44100;
const SECONDS = 1;

interface Struck {
  hz: number;
  amplitude: number;
  fallDb: number;
}

/** Sines that fall by so many decibels a second, over a floor of noise. */
function sound(sines: readonly Struck[], noise = 0): Float64Array {
  const random = createRandom(5);
  return Float64Array.from({ length: SECONDS * RATE_HZ }, (_, i) => {
    const t = i / RATE_HZ;
    return sines.reduce(
      (sum, { hz, amplitude, fallDb }) => sum + amplitude * 10 ** ((-fallDb * t) / 20) * Math.cos(2 * Math.PI * hz * t),
      noise * (random() - 0.5),
    );
  });
}

const modesOf = (signal: Float64Array) => measureModes(signal, RATE_HZ, 0, SECONDS);

describe('Modes', () => {
  it.each([0, 0.002])('have each its frequency, its level at the onset and its fall (noise %d)', (noise) => {
    const sines = [
      { hz: 392, amplitude: 0.5, fallDb: 50 },
      { hz: 1570, amplitude: 0.25, fallDb: 200 },
      { hz: 3620, amplitude: 0.12, fallDb: 400 },
      { hz: 1080.4, amplitude: 0.1, fallDb: 0 },
    ];
    const modes = modesOf(sound(sines, noise)).slice(0, sines.length);
    expect(modes).toHaveLength(sines.length);
    modes.forEach((mode, i) => {
      expect(Math.abs(1200 * Math.log2(mode.hz / sines[i].hz))).toBeLessThan(5);
      expect(Math.abs(20 * Math.log10(mode.amplitude / sines[i].amplitude))).toBeLessThan(1);
      expect(Math.abs(mode.fallDb - sines[i].fallDb)).toBeLessThan(Math.max(2, 0.1 * sines[i].fallDb));
    });
  });

  it('that lie close together are told apart as long as they last', () => {
    const pair = [
      { hz: 440, amplitude: 0.3, fallDb: 20 },
      { hz: 452, amplitude: 0.2, fallDb: 20 },
    ];
    expect(modesOf(sound(pair)).map(({ hz }) => Math.round(hz))).toEqual([440, 452]);
  });

  it('are not found in noise', () => {
    expect(modesOf(sound([], 0.5)).length).toBeLessThan(4);
  });
});
