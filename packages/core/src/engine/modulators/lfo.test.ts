import type { Lfo } from '../../patch/schema';
import { lfoSchema } from '../../patch/schemas/modulatorSchema';
import { advanceLfo, bendThrough, compileLfo, createLfoState, shapeAt, startLfo } from './lfo';

const plainLfo = lfoSchema.parse({ kind: 'lfo', id: 'one', name: 'One' });
const slots = { rateHz: 0, startPhaseCycles: 1, delaySeconds: 2, fadeInSeconds: 3, smoothing: 4 };

/** An LFO's value and depth at times of a note. */
function follow(change: Partial<Lfo>, times: readonly number[], { bpm = 120, startSeconds = 0, seed = 1 } = {}) {
  const lfo = { ...plainLfo, rateHz: 1, ...change };
  const program = compileLfo(lfo, bpm, slots);
  const values = Float64Array.of(lfo.rateHz, lfo.startPhaseCycles, lfo.delaySeconds, lfo.fadeInSeconds, lfo.smoothing);
  const state = createLfoState();
  startLfo(program, state, values, startSeconds);
  return times.map((seconds) => {
    advanceLfo(program, state, values, { seconds, seed }, 0);
    return { value: state.smoothed, depth: state.depth };
  });
}

const valuesOf = (...words: Parameters<typeof follow>) => follow(...words).map(({ value }) => value);
const QUARTERS = [0, 0.25, 0.5, 0.75];

describe('The shapes of an LFO over one turn', () => {
  it.each([
    ['sine', [0.5, 1, 0.5, 0]],
    ['triangle', [0, 0.5, 1, 0.5]],
    ['rising', [0, 0.25, 0.5, 0.75]],
    ['falling', [1, 0.75, 0.5, 0.25]],
    ['square', [1, 1, 0, 0]],
  ] as const)('%s', (shape, wanted) => {
    valuesOf({ shape }, QUARTERS).forEach((value, i) => expect(value).toBeCloseTo(wanted[i], 9));
  });

  it('random steps stay for a turn, and are others for another seed', () => {
    const [a, same, next] = valuesOf({ shape: 'randomSteps' }, [0.1, 0.9, 1.1]);
    expect(same).toBe(a);
    expect(next).not.toBe(a);
    expect(valuesOf({ shape: 'randomSteps' }, [0.1], { seed: 2 })).not.toEqual([a]);
  });

  it('a random curve goes through the random steps, without a jump', () => {
    const program = { points: compileLfo(plainLfo, 120, slots).points };
    for (let turn = 0; turn < 5; turn++) {
      const curve = (at: number) => shapeAt({ ...program, shape: 'randomCurve' }, at, 3);
      expect(curve(turn)).toBeCloseTo(shapeAt({ ...program, shape: 'randomSteps' }, turn, 3), 9);
      expect(curve(turn + 1 - 1e-7)).toBeCloseTo(curve(turn + 1), 5);
    }
  });

  it('a drawn turn is closed: the way leads from its last point back to its first', () => {
    const points = [
      { at: 0.25, value: 1, bend: 0 },
      { at: 0.75, value: 0, bend: 0 },
    ];
    valuesOf({ shape: 'drawn', points }, [0, 0.25, 0.5, 0.75, 0.9]).forEach((value, i) =>
      expect(value).toBeCloseTo([0.5, 1, 0.5, 0, 0.3][i], 9),
    );
  });

  it.each([0.2, 0.4, 0.5, 0.6, 0.8])('a bend can go through %d of the way in the middle of it', (share) => {
    const points = [
      { at: 0, value: 0, bend: 100 * bendThrough(share) },
      { at: 0.999999, value: 1, bend: 0 },
    ];
    expect(valuesOf({ shape: 'drawn', points }, [0.4999995])[0]).toBeCloseTo(share, 4);
  });
});

describe('The time of an LFO', () => {
  it('a division goes by the tempo, whatever its rate says', () => {
    // A quarter at 90 BPM takes 2/3 s.
    const [start, half, whole] = valuesOf({ shape: 'rising', division: '1/4', rateHz: 3 }, [0, 1 / 3, 0.666], {
      bpm: 90,
    });
    expect(start).toBe(0);
    expect(half).toBeCloseTo(0.5, 9);
    expect(whole).toBeCloseTo(0.999, 9);
  });

  it('waits for its delay where it starts, and then fades in', () => {
    const [early, due, grown] = follow({ shape: 'rising', delaySeconds: 0.5, fadeInSeconds: 0.4 }, [0.4, 0.7, 1.2]);
    expect(early).toEqual({ value: 0, depth: 0 });
    expect(due.value).toBeCloseTo(0.2, 9);
    expect(due.depth).toBeCloseTo(0.5, 9);
    expect(grown.depth).toBe(1);
  });

  it('runs once and stays at its end', () => {
    const [half, end, later] = valuesOf({ shape: 'rising', run: 'oneShot' }, [0.5, 1.5, 4]);
    expect(half).toBeCloseTo(0.5, 9);
    expect(end).toBeCloseTo(1, 6);
    expect(later).toBe(end);
  });

  it('runs on between notes where it is free, and begins anew where it is not', () => {
    expect(valuesOf({ shape: 'rising', restart: 'free' }, [0.1], { startSeconds: 10.25 })[0]).toBeCloseTo(0.35, 9);
    expect(valuesOf({ shape: 'rising', restart: 'note' }, [0.1], { startSeconds: 10.25 })[0]).toBeCloseTo(0.1, 9);
  });

  it('smoothed in full, comes 1 − 1/e of the way to a step in a quarter of a turn', () => {
    const [, before, after] = valuesOf({ shape: 'square', smoothing: 100 }, [0, 0.5 - 1e-9, 0.75]);
    expect(before).toBeCloseTo(1, 6);
    expect(after).toBeCloseTo(Math.exp(-1), 6);
  });
});
