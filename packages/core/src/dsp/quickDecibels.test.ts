import { quickDecibels } from './quickDecibels';

it('quick decibels are those of the logarithm', () => {
  for (let exponent = -37; exponent < 38; exponent += 0.0137) {
    const power = 10 ** exponent;
    expect(Math.abs(quickDecibels(power) - 10 * Math.log10(power))).toBeLessThan(0.002);
  }
});
