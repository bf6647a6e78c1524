import { CHAIN_RATE_HZ, chainOf, click, effect, responseDb, sineOf } from '../../../../test/chains';
import { hzAt, largestStep } from '../../../../test/signals';

const peaksOf = (signal: Float64Array, over: number) =>
  [...signal.keys()].filter((i) => Math.abs(signal[i]) > over).map((i) => [i, signal[i]] as const);

describe('The delay', () => {
  it('repeats to the sample, each pass softer by the feedback', () => {
    const fields = { leftSeconds: 0.1, rightSeconds: 0.15, feedback: 50 };
    const [left, right] = chainOf(effect('delay', fields)).run(click(0.7));
    const echoes = peaksOf(left, 1e-3);
    expect(echoes.map(([at]) => at)).toEqual([1, 2, 3, 4, 5, 6].map((n) => n * 4800));
    echoes
      .slice(1)
      .forEach(([, x], n) => expect(Math.abs(20 * Math.log10(x / echoes[n][1]) + 6.0206)).toBeLessThan(0.1));
    expect(peaksOf(right, 1e-3)[0][0]).toBe(7200);
  });

  it('keeps divisions at the tempo: a dotted eighth at 120 is 0.375 s', () => {
    const [left, right] = chainOf(effect('delay', { leftDivision: '1/8.', rightDivision: '1/4t' })).run(click(0.5));
    expect(peaksOf(left, 0.5)[0][0]).toBe(18000);
    expect(peaksOf(right, 0.5)[0][0]).toBe(16000);
  });

  it('as a ping-pong comes from both sides in turn', () => {
    const fields = { leftSeconds: 0.05, rightSeconds: 0.05, feedback: 60, pingPong: true };
    const [left, right] = chainOf(effect('delay', fields)).run(click(0.3));
    expect(peaksOf(left, 0.1).map(([at]) => at / 2400)).toEqual([1, 3, 5]);
    expect(peaksOf(right, 0.1).map(([at]) => at / 2400)).toEqual([2, 4]);
  });

  it('rings at the pitch of a short time: 1 ms and a bit is 987.8 Hz', () => {
    const fields = { leftSeconds: 1 / 987.77, rightSeconds: 1 / 987.77, feedback: 98 };
    const [out] = chainOf(effect('delay', fields)).run(click(1));
    const levels = Array.from({ length: 41 }, (_, i) => responseDb(out, 987.77 + (i - 20) / 4));
    expect(Math.abs(levels.indexOf(Math.max(...levels)) - 20)).toBeLessThanOrEqual(2);
  });

  it('changes its time without a click', () => {
    const at = (seconds: number) => effect('delay', { leftSeconds: seconds, rightSeconds: seconds, feedback: 0 });
    const { run, set } = chainOf(at(0.1));
    run(sineOf(200, 0.4));
    set(at(0.1313));
    const [out] = run(sineOf(200, 0.4));
    const steepest = out.reduce((a, x, i) => (i ? Math.max(a, Math.abs(x - out[i - 1])) : a), 0);
    // Twice the steepest of the sine itself.
    expect(steepest).toBeLessThan(2 * 0.5 * ((2 * Math.PI * 200) / CHAIN_RATE_HZ));
  });
});

describe('A delay whose time bends', () => {
  const at = (seconds: number) =>
    effect('delay', { leftSeconds: seconds, rightSeconds: seconds, feedback: 0, bends: true });
  const SINE_HZ = 1000;

  it.each([
    ['further', 0.1, 0.12, 0.5],
    ['nearer', 0.12, 0.1, 1.5],
  ])('runs %s on its way, without a click, and is then exact', (_, from, to, speed) => {
    const { run, set } = chainOf(at(from));
    const input = sineOf(SINE_HZ, 0.4);
    run(input.slice());
    set(at(to));
    const [out] = run(input.slice());
    expect(largestStep(out)).toBeLessThan(1.6 * largestStep(input));
    expect(hzAt(out, CHAIN_RATE_HZ, 0.01, 0.01)).toBeCloseTo(speed * SINE_HZ, -1);
    const late = Math.round(to * CHAIN_RATE_HZ);
    for (let i = out.length - 400; i < out.length; i++) expect(out[i]).toBeCloseTo(input[i - late], 4);
  });

  it('follows a time that is moved little by little, by that much out of tune', () => {
    const { run, set } = chainOf(at(0.1));
    run(sineOf(SINE_HZ, 0.128 * 4));
    const parts: number[] = [];
    // 2 % slower: the time grows by 20 ms a second.
    for (let block = 0; block < 200; block++) {
      set(at(0.1 + (0.02 * (block + 1) * 128) / CHAIN_RATE_HZ));
      const from = 0.128 * 4 * CHAIN_RATE_HZ + block * 128;
      const input = new Float64Array(128).map(
        (_, i) => 0.5 * Math.sin((2 * Math.PI * SINE_HZ * (from + i)) / CHAIN_RATE_HZ),
      );
      parts.push(...run(input)[0]);
    }
    expect(hzAt(parts, CHAIN_RATE_HZ, 0.3, 0.1)).toBeCloseTo(0.98 * SINE_HZ, 0);
  });
});
