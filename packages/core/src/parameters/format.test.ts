import { formatValue, parseValue } from './format';
import { clampToRange, positionOnScale, valueAtScale } from './parameter';
import { parameterTable } from './table';
import type { Parameter, Unit } from './parameter';

describe('Values with their units', () => {
  it.each([
    [350, 'Hz', '350 Hz'],
    [1250, 'Hz', '1.25 kHz'],
    [0.012, 's', '12 ms'],
    [1.5, 's', '1.5 s'],
    [-3, 'dB', '−3 dB'],
    [-96, 'dB', 'silent'],
    [7, 'st', '+7 st'],
    [100, '%', '100 %'],
  ] as [number, Unit, string][])('%f %s is written %s', (value, unit, text) =>
    expect(formatValue(value, unit)).toBe(text),
  );

  it.each([
    ['350 Hz', 'Hz', 350],
    ['1.2k', 'Hz', 1200],
    ['-3 dB', 'dB', -3],
    ['−3', 'dB', -3],
    ['+7 st', 'st', 7],
    ['12 ms', 's', 0.012],
    ['0,5 s', 's', 0.5],
    ['silent', 'dB', -96],
    ['loud', 'dB', undefined],
    ['3 Hz', 'dB', undefined],
  ] as [string, Unit, number | undefined][])('“%s” typed for %s is %p', (text, unit, value) => {
    if (value === undefined) expect(parseValue(text, unit)).toBeUndefined();
    else expect(parseValue(text, unit)).toBeCloseTo(value);
  });

  it('what is written can be typed again', () => {
    for (const parameter of Object.values(parameterTable).flatMap((group) => Object.values<Parameter>(group))) {
      const typed = parseValue(formatValue(parameter.default, parameter.unit), parameter.unit);
      expect(typed).toBeCloseTo(parameter.default, 1);
    }
  });
});

describe.each(
  Object.entries(parameterTable).flatMap(([kind, group]) =>
    Object.entries<Parameter>(group).map(([name, p]) => [`${kind}.${name}`, p] as const),
  ),
)('The scale of %s', (_name, parameter) => {
  it('runs from its least to its largest value and holds its default', () => {
    expect(positionOnScale(parameter, parameter.min)).toBeCloseTo(0);
    expect(positionOnScale(parameter, parameter.max)).toBeCloseTo(1);
    expect(clampToRange(parameter, parameter.default)).toBe(parameter.default);
  });
  it('comes back from place to value to place', () => {
    for (const place of [0, 0.3, 0.5, 0.9, 1]) {
      const value = valueAtScale(parameter, place);
      expect(value).toBeGreaterThanOrEqual(parameter.min);
      expect(value).toBeLessThanOrEqual(parameter.max);
      if (parameter.step * 200 < parameter.max - parameter.min && parameter.scale === 'linear') {
        expect(positionOnScale(parameter, value)).toBeCloseTo(place, 2);
      }
    }
  });
});
