import { MADE_RATE_HZ, hzOf, level, mixed, saw, shaped, sine, square, tone } from '../../../test/made/parts';
import { scaled } from '../../../test/made/madeTone';
import { gatherEvidence } from '../evidence';
import type { Part } from './hypothesis';
import { standingsOf, startOf } from './startPhases';
import { some, thorough } from '../../../test/thorough';

const HZ = hzOf(50);
const part = (shape: Part['shape'], semitones: number): Part => ({ shape, pulseWidth: null, semitones, levelDb: 0 });

function evidenceOf(...signals: Float64Array[]) {
  const whole = shaped(mixed(...signals), level({ off: 1 }));
  const channels = [Float32Array.from(whole, (x) => 0.3 * x)];
  return gatherEvidence({ channels, sampleRateHz: MADE_RATE_HZ });
}

const standings = (parts: Part[], ...signals: Float64Array[]) => standingsOf(parts, evidenceOf(...signals));

some(1).it.each([0.13, 0.77])('how two saws an octave apart stand to one another: %f of a period', (phase) => {
  const lower = tone({ seconds: 1.2, hz: HZ, amplitude: saw });
  const upper = scaled(tone({ seconds: 1.2, hz: 2 * HZ, amplitude: saw, phase }), 0.8);
  const [first, second] = standings([part('saw', 0), part('saw', 12)], lower, upper);
  expect(first).toBeUndefined();
  // The engine's saw is half a period further and upside down. Levels do not tell which of the two is ahead.
  const ahead = (cycles: number) => Math.cos(2 * Math.PI * cycles);
  expect(Math.abs(ahead(second!.startPhaseCycles) - ahead(phase + 0.5))).toBeLessThan(0.12);
  expect(second!.louderDb).toBeLessThan(1);
  expect(second!.louderDb).toBeGreaterThan(-4);
});

thorough.it('nothing is told where no partials meet', () => {
  const low = tone({ seconds: 1.2, hz: HZ, amplitude: square });
  const high = scaled(tone({ seconds: 1.2, hz: 2 * HZ, amplitude: sine, phase: 0.3 }), 0.5);
  expect(standings([part('square', 0), part('sine', 12)], low, high)).toEqual([undefined, undefined]);
});

it('nothing is told of a source that lies under all partials', () => {
  const only = tone({ seconds: 1.2, hz: HZ, amplitude: saw });
  expect(standings([part('saw', 0), part('sine', -24)], only)).toEqual([undefined, undefined]);
});

describe('Where in its period a source begins', () => {
  // As told by the Fourier series of either saw: half a period further, upside down.
  some(1).it.each([0.35, 0.9])('a saw at %f of ours', (phase) => {
    const found = startOf(part('saw', 0), evidenceOf(tone({ seconds: 1.2, hz: HZ, amplitude: saw, phase })))!;
    const off = Math.abs(found - ((phase + 0.5) % 1));
    expect(Math.min(off, 1 - off)).toBeLessThan(0.02);
  });

  thorough.it.each([0.2, 0.37])('a pulse of width %f', (pulseWidth) => {
    // Two saws: it is high from the one's edge to the other's. Ours is high up to the middle of its period.
    const edge = (phase: number) => tone({ seconds: 1.2, hz: HZ, amplitude: saw, phase });
    const pulse = mixed(edge(0.31), scaled(edge(0.31 - pulseWidth), -1));
    const found = startOf({ ...part('pulse', 0), pulseWidth }, evidenceOf(pulse))!;
    expect(Math.abs(found - (0.5 - pulseWidth + 0.31))).toBeLessThan(0.02);
  });

  thorough.it('is the same upside down', () => {
    const own = tone({ seconds: 1.2, hz: HZ, amplitude: saw, phase: 0.2 });
    const found = startOf(part('saw', 0), evidenceOf(scaled(own, -1)))!;
    expect(found).toBeCloseTo(0.7, 1);
  });

  thorough.it('is not told of high notes, of other waveforms, or where it is the usual one', () => {
    const high = tone({ seconds: 1.2, hz: 8 * HZ, amplitude: saw, phase: 0.2 });
    expect(startOf(part('saw', 0), evidenceOf(high))).toBeUndefined();
    const scattered = mixed(
      ...[1, 2, 3, 4, 5, 6].map((n) =>
        scaled(tone({ seconds: 1.2, hz: n * HZ, amplitude: sine, phase: 0.31 * n * n }), 1 / n),
      ),
    );
    expect(startOf(part('saw', 0), evidenceOf(scattered))).toBeUndefined();
    expect(startOf(part('square', 0), evidenceOf(tone({ seconds: 1.2, hz: HZ, amplitude: square })))).toBeUndefined();
  });
});
