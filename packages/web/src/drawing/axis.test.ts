import { amountAxis, axisIn, gridLines, octaveAxis, onAxis, percentAxis, turnAxis } from './axis';

describe('An axis', () => {
  it.each([
    [axisIn('s', [0, 2]), 0.25, '250 ms'],
    [axisIn('dB', [-24, 24]), -6, '−6 dB'],
    [percentAxis([-1, 1]), -0.25, '−25 %'],
    [turnAxis, 0.25, '90°'],
    [octaveAxis(20, 20000), Math.log2(1250), '1.25 kHz'],
    [amountAxis('st', [0, 1], 24, -12), 0.75, '+6 st'],
  ])('tells a value and reads it back: $#', (axis, value, text) => {
    expect(axis.text(value)).toBe(text);
    expect(axis.parse(text)).toBeCloseTo(value, 9);
  });

  it('reads nothing from what is no value', () => {
    expect(turnAxis.parse('round')).toBeUndefined();
    expect(octaveAxis(20, 20000).parse('-3 Hz')).toBeUndefined();
  });

  it('holds values to its range and to the lines of its grid', () => {
    const axis = axisIn('dB', [-6, 6], 1);
    expect(onAxis(axis, 2.4, false)).toBe(2);
    expect(onAxis(axis, 2.4, true)).toBe(2.4);
    expect(onAxis(axis, 9, false)).toBe(6);
    // A unipolar amount of 7.5 semitones: whole ones lie at multiples of 1 / 7.5.
    expect(onAxis(amountAxis('st', [0, 1], 7.5, 0), 0.5, false)).toBeCloseTo(4 / 7.5, 9);
    // A bipolar one of 7.5: from −7.5 on whole ones are shifted by a half.
    const bipolar = amountAxis('st', [0, 1], 15, -7.5);
    expect(bipolar.text(onAxis(bipolar, 0.52, false))).toBe('0 st');
  });

  it('has finer lines where the drawing spans but a few semitones, and none for other units', () => {
    expect(amountAxis('st', [-1, 1], 1, 0).grid).toBeCloseTo(0.1, 9);
    expect(amountAxis('%', [-1, 1], 50, 0).grid).toBeUndefined();
  });

  it('draws lines that can be told apart', () => {
    expect(gridLines(axisIn('st', [-2, 2], 1))).toEqual([-2, -1, 0, 1, 2]);
    const many = gridLines(axisIn('dB', [-72, 0], 1));
    expect(many.length).toBeLessThan(26);
    expect(many).toContain(-36);
    expect(gridLines(percentAxis([0, 1]))).toEqual([]);
  });
});
