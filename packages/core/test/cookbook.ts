/** Biquads of R. Bristow-Johnson's "Audio EQ Cookbook", as printed there: nothing here is the engine's. */

export type Biquad = readonly [b0: number, b1: number, b2: number, a0: number, a1: number, a2: number];

export type CookbookKind = 'lowpass' | 'highpass' | 'bandpass' | 'notch' | 'peak' | 'lowShelf' | 'highShelf';

interface Setting {
  hz: number;
  q: number;
  gainDb?: number;
  sampleRateHz: number;
}

/** The band-pass is the one whose peak is 0 dB. */
export function cookbookBiquad(kind: CookbookKind, { hz, q, gainDb = 0, sampleRateHz }: Setting): Biquad {
  const w = (2 * Math.PI * hz) / sampleRateHz;
  const cos = Math.cos(w);
  const alpha = Math.sin(w) / (2 * q);
  const A = 10 ** (gainDb / 40);
  const plain = [1 + alpha, -2 * cos, 1 - alpha] as const;
  switch (kind) {
    case 'lowpass':
      return [(1 - cos) / 2, 1 - cos, (1 - cos) / 2, ...plain];
    case 'highpass':
      return [(1 + cos) / 2, -(1 + cos), (1 + cos) / 2, ...plain];
    case 'bandpass':
      return [alpha, 0, -alpha, ...plain];
    case 'notch':
      return [1, -2 * cos, 1, ...plain];
    case 'peak':
      return [1 + alpha * A, -2 * cos, 1 - alpha * A, 1 + alpha / A, -2 * cos, 1 - alpha / A];
    case 'lowShelf':
      return shelf(cos, alpha, A);
    case 'highShelf': {
      // The same mirrored about a quarter of the rate.
      const [b0, b1, b2, a0, a1, a2] = shelf(-cos, alpha, A);
      return [b0, -b1, b2, a0, -a1, a2];
    }
  }
}

function shelf(cos: number, alpha: number, A: number): Biquad {
  const root = 2 * Math.sqrt(A) * alpha;
  return [
    A * (A + 1 - (A - 1) * cos + root),
    2 * A * (A - 1 - (A + 1) * cos),
    A * (A + 1 - (A - 1) * cos - root),
    A + 1 + (A - 1) * cos + root,
    -2 * (A - 1 + (A + 1) * cos),
    A + 1 + (A - 1) * cos - root,
  ];
}

/** Response of a digital biquad, dB. */
export function biquadDb([b0, b1, b2, a0, a1, a2]: Biquad, hz: number, sampleRateHz: number): number {
  const w = (2 * Math.PI * hz) / sampleRateHz;
  const power = (c0: number, c1: number, c2: number) =>
    (c0 + c1 * Math.cos(w) + c2 * Math.cos(2 * w)) ** 2 + (c1 * Math.sin(w) + c2 * Math.sin(2 * w)) ** 2;
  return 10 * Math.log10(power(b0, b1, b2) / power(a0, a1, a2));
}
