import { chainOf, click, effect, responseDb } from '../../../../test/chains';

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
