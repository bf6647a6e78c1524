import { CHAIN_RATE_HZ, chainOf, effect, sineOf } from '../../../../test/chains';

const decibels = (x: number) => 20 * Math.log10(Math.abs(x));

describe('The three-band compressor', () => {
  const band = (fields: object) =>
    effect('multiband', {
      midDownDb: -20,
      midDownRatio: 4,
      midUpDb: -40,
      midUpRatio: 2,
      lowDownRatio: 1,
      lowUpRatio: 1,
      highDownRatio: 1,
      highUpRatio: 1,
      ...fields,
    });
  const levelAfter = (db: number, hz: number, fields = {}) => {
    const [out] = chainOf(band(fields)).run(sineOf(hz, 2, 10 ** (db / 20)));
    return decibels(out.subarray(CHAIN_RATE_HZ).reduce((a, x) => Math.max(a, Math.abs(x)), 0));
  };

  it('turns the loud of two levels down and the soft one up', () => {
    expect(levelAfter(-8, 700)).toBeCloseTo(-17, 0);
    expect(levelAfter(-30, 700)).toBeCloseTo(-30, 0);
    expect(levelAfter(-56, 700)).toBeCloseTo(-48, 0);
  });

  it('leaves other bands, and everything at amount 0, as they are in level', () => {
    expect(levelAfter(-8, 60)).toBeCloseTo(-8, 0);
    expect(levelAfter(-8, 9000)).toBeCloseTo(-8, 0);
    for (const hz of [60, 160, 700, 2500, 9000]) expect(levelAfter(-8, hz, { amount: 0 })).toBeCloseTo(-8, 1);
  });

  it('leaves noise under everything alone', () => expect(levelAfter(-86, 700)).toBeCloseTo(-86, 0));
});
