import { tableFromHarmonics } from './bandlimitedTable';
import { type Factors, type OscillatorBank, addTable, advanceBank } from './readTable';

const COUNT = 128;
const [level] = tableFromHarmonics([{ cosine: new Float64Array(2), sine: Float64Array.of(0, 1) }]).levels;
const even: Factors = { now: new Float64Array([1, 1, 1]), next: new Float64Array([1, 1, 1]) };

const bankOf = (voices: readonly (readonly [phase: number, step: number, next?: number])[]): OscillatorBank => ({
  count: voices.length,
  phases: Float64Array.from(voices, ([phase]) => phase),
  increments: Float64Array.from(voices, ([, step]) => step),
  nextIncrements: Float64Array.from(voices, ([, step, next = step]) => next),
});

const AT_REST = { gain: 1, nextGain: 1, shift: 0, nextShift: 0 };

function read(bank: OscillatorBank, reading = AT_REST, factors = even): Float64Array {
  const out = new Float64Array(COUNT);
  addTable(out, out, 0, COUNT, level, 0, bank, factors, factors, reading);
  return out;
}

const largestDifference = (a: ArrayLike<number>, b: (i: number) => number) =>
  Math.max(...Array.from({ length: a.length }, (_, i) => Math.abs(a[i] - b(i))));

/** What the table holds at a phase, from a voice that stands still. */
const held = (phase: number) => read(bankOf([[phase - Math.floor(phase), 0]]))[0];

it('reads a sine between its samples to −100 dB', () => {
  const top = Math.max(...Array.from({ length: 64 }, (_, i) => Math.abs(held(i / 64))));
  const begin = held(0);
  const quarter = held(0.25);
  const out = read(bankOf([[0.13, 0.0171]]));
  const at = (i: number) => 2 * Math.PI * (0.13 + 0.0171 * i);
  expect(top).toBeGreaterThan(0);
  expect(largestDifference(out, (i) => begin * Math.cos(at(i)) + quarter * Math.sin(at(i))) / top).toBeLessThan(1e-5);
});

it('adds two voices at rest as it adds each by itself', () => {
  const voices = [
    [0.2, 0.011],
    [0.7, 0.0123],
    [0.4, 0.0092],
  ] as const;
  const alone = voices.map((voice) => read(bankOf([voice])));
  const together = read(bankOf(voices));
  expect(largestDifference(together, (i) => alone[0][i] + alone[1][i] + alone[2][i])).toBeLessThan(1e-12);
});

it('adds to what is there, within its stretch only', () => {
  const out = new Float64Array(COUNT).fill(3);
  addTable(out, out, 40, 60, level, 0, bankOf([[0.3, 0.01]]), even, even, AT_REST);
  expect(out.findIndex((x) => x !== 3)).toBe(40);
  expect(out.findLastIndex((x) => x !== 3)).toBe(59);
});

it('goes from one gain to the next in a straight line', () => {
  const whole = read(bankOf([[0.1, 0.01]]));
  const fading = read(bankOf([[0.1, 0.01]]), { ...AT_REST, gain: 1, nextGain: 0 });
  expect(largestDifference(fading, (i) => whole[i] * (1 - i / COUNT))).toBeLessThan(1e-9);
});

it('gives each side its own share', () => {
  const [left, right] = [new Float64Array(COUNT), new Float64Array(COUNT)];
  const softer: Factors = { now: new Float64Array([0.25]), next: new Float64Array([0.25]) };
  addTable(left, right, 0, COUNT, level, 0, bankOf([[0.1, 0.01]]), even, softer, AT_REST);
  expect(largestDifference(right, (i) => 0.25 * left[i])).toBeLessThan(1e-12);
  expect(Math.max(...left)).toBeGreaterThan(0.1);
});

it('is moved by a shift of all phases', () => {
  const later = read(bankOf([[0.35, 0.01]]));
  const shifted = read(bankOf([[0.1, 0.01]]), { ...AT_REST, shift: 0.25, nextShift: 0.25 });
  expect(largestDifference(shifted, (i) => later[i])).toBeLessThan(1e-9);
});

describe('From block to block', () => {
  it('goes on where it was, also where the pitch glides', () => {
    const bank = bankOf([[0.4, 0.01, 0.02]]);
    const first = read(bank);
    advanceBank(bank, COUNT);
    const second = read(bank);
    // Of a sine that glides nothing jumps: the step into the next block is like those beside it.
    const steps = [first.at(-1)! - first.at(-2)!, second[0] - first.at(-1)!, second[1] - second[0]];
    const [before, over, after] = steps;
    expect(over).toBeGreaterThan(Math.min(before, after) - 0.02);
    expect(over).toBeLessThan(Math.max(before, after) + 0.02);
    expect(bank.increments[0]).toBe(0.02);
  });

  it('keeps phases within a period', () => {
    const bank = bankOf([
      [0.9, 0.3],
      [0.1, -0.3],
    ]);
    for (let block = 0; block < 20; block++) advanceBank(bank, COUNT);
    for (const phase of bank.phases) {
      expect(phase).toBeGreaterThanOrEqual(0);
      expect(phase).toBeLessThan(1);
    }
    expect(bank.phases[0]).toBeCloseTo((0.9 + 0.3 * COUNT * 20) % 1, 6);
  });
});
