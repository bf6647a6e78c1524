import { FILTER_RATE_HZ, filterOf } from '../../../test/filterAlone';

describe('The ladder', () => {
  it('rings by itself from k = 4 on, at the cutoff (Stilson & Smith 1996)', () => {
    const tail = (resonance: number) => {
      const signal = new Float64Array(2 * FILTER_RATE_HZ);
      signal[0] = 0.5;
      filterOf({ kind: 'ladder', cutoffHz: 1000, resonance }).run(signal);
      return signal.subarray(FILTER_RATE_HZ);
    };
    expect(Math.max(...tail(97))).toBeLessThan(1e-4);
    const ringing = tail(104);
    expect(Math.max(...ringing)).toBeGreaterThan(0.05);
    expect(Math.max(...ringing)).toBeLessThan(1.2);
    let crossings = 0;
    for (let i = 1; i < ringing.length; i++) if (ringing[i - 1] < 0 && ringing[i] >= 0) crossings++;
    expect(crossings).toBeGreaterThan(970);
    expect(crossings).toBeLessThan(1030);
  });
});
