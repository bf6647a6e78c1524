import { createFrameSpectrum } from '../../dsp/frameSpectrum';

export interface Spectrogram {
  columns: number;
  rows: number;
  minHz: number;
  maxHz: number;
  /** Level of 255, dB. */
  topDb: number;
  /** 0 (70 dB under the top, or less) to 255 (the top), column by column, lowest frequency first. */
  levels: Uint8Array;
}

export const SPECTROGRAM_RANGE_DB = 70;

/**
 * Levels over time and (logarithmic) frequency of a span of a signal.
 *
 * @param onProgress called with 0..1; throwing from it cancels
 */
export function computeSpectrogram(
  mono: ArrayLike<number>,
  sampleRateHz: number,
  options: {
    fromSeconds: number;
    toSeconds: number;
    columns: number;
    rows: number;
    minHz: number;
    maxHz: number;
    size?: number;
    /** What stands in place of the loudest level, so that two pictures have one scale. */
    topDb?: number;
  },
  onProgress: (fraction: number) => void = () => {},
): Spectrogram {
  const { fromSeconds, toSeconds, columns, rows, minHz, maxHz, size = 4096 } = options;
  const spectrum = createFrameSpectrum(size);
  const { real, imaginary } = spectrum;
  const decibels = new Float32Array(columns * rows);
  const edges = Float64Array.from(
    { length: rows + 1 },
    (_, row) => (minHz * (maxHz / minHz) ** (row / rows) * size) / sampleRateHz,
  );
  // So that windows of any length have one scale: a sine of full scale is 0 dB.
  const scale = 1 / (size / 4) ** 2;
  let loudest = -Infinity;
  for (let column = 0; column < columns; column++) {
    const middle = (fromSeconds + ((column + 0.5) / columns) * (toSeconds - fromSeconds)) * sampleRateHz;
    spectrum.transform(mono, Math.round(middle) - size / 2);
    for (let row = 0; row < rows; row++) {
      const from = Math.min(size / 2 - 1, Math.floor(edges[row]));
      const to = Math.min(size / 2, Math.max(from + 1, Math.ceil(edges[row + 1])));
      let power = 0;
      for (let k = from; k < to; k++) power = Math.max(power, real[k] * real[k] + imaginary[k] * imaginary[k]);
      const level = 10 * Math.log10(scale * power + 1e-20);
      decibels[column * rows + row] = level;
      if (level > loudest) loudest = level;
    }
    if (column % 64 === 0) onProgress(column / columns);
  }
  const { topDb = loudest } = options;
  const levels = Uint8Array.from(decibels, (level) =>
    Math.max(0, Math.min(255, Math.round(255 * (1 + (level - topDb) / SPECTROGRAM_RANGE_DB)))),
  );
  return { columns, rows, minHz, maxHz, topDb, levels };
}
