import { type PartialEnvelopes, powersOf } from './partialEnvelopes';
import { fitLine, mean, median } from '../statistics';

/** Partials this far under the strongest are left out. */
const LEAST_DB = -45;
/** A partial may stand this share of the spacing beside its place, else the next one is looked at. */
const MOST_OFFSET = 0.38;
const MIN_PARTIALS = 5;
/** Less is what a harmonic tone shows by chance. */
const LEAST = 3.5e-5;
/** The stretched series has to leave this share of what the harmonic one leaves. */
const BETTER = 0.35;
const MOST_MISFIT_CENTS = 4;
/** A harmonic series that is nearer than this is one. */
const LEAST_MISFIT_CENTS = 1;

/**
 * Inharmonicity B of a stiff string's partials, f(n) = n·f1·√(1 + B·n²) (Fletcher 1964): the frequencies of
 * the partials, from the slopes of their phases, squared over n² are a straight line over n². Partials are
 * taken up as long as they stand near where the lower ones put them. 0 for a harmonic tone; undefined with
 * fewer than five partials, or when they follow neither series.
 */
export function measureInharmonicity(
  { f0Hz, seconds, hopSeconds, partials }: PartialEnvelopes,
  fromSeconds: number,
  toSeconds: number,
): { inharmonicity: number; f1Hz: number } | undefined {
  const first = seconds.findIndex((at) => at >= fromSeconds);
  const last = seconds.findLastIndex((at) => at <= toSeconds);
  if (first < 0 || last - first < 8) return undefined;
  const powers = partials.map((partial) => mean(powersOf(partial).subarray(first, last + 1)));
  const strongest = Math.max(...powers);
  const found: { n: number; hz: number; power: number }[] = [];
  for (let i = 0; i < partials.length; i++) {
    const n = i + 1;
    if (10 * Math.log10(powers[i] / strongest) < LEAST_DB) continue;
    const expected = found.length < 3 ? 0 : stretched(found, n) - n * f0Hz;
    if (Math.abs(expected) > MOST_OFFSET * f0Hz) break;
    const offsetHz = meanOffset(partials[i], first, last) / (2 * Math.PI * hopSeconds);
    found.push({ n, hz: n * f0Hz + offsetHz, power: Math.max(powers[i], strongest * 10 ** (-30 / 10)) });
  }
  if (found.length < MIN_PARTIALS) return undefined;
  const { intercept, slope } = lineOf(found);
  const inharmonicity = slope / intercept;
  const f1 = Math.sqrt(intercept);
  const misfit = medianCents(found, (n) => n * f1 * Math.sqrt(Math.max(0, 1 + inharmonicity * n * n)));
  const plain = mean(found.map(({ n, hz }) => hz / n));
  const misfitPlain = medianCents(found, (n) => n * plain);
  const isBetter = misfitPlain > LEAST_MISFIT_CENTS && misfit < BETTER * misfitPlain;
  if (inharmonicity > LEAST && misfit < MOST_MISFIT_CENTS && isBetter) {
    return { inharmonicity, f1Hz: f1 };
  }
  return misfitPlain < MOST_MISFIT_CENTS ? { inharmonicity: 0, f1Hz: plain } : undefined;
}

type Found = { n: number; hz: number; power: number };

function lineOf(found: readonly Found[]) {
  return fitLine(
    found.map(({ n }) => n * n),
    found.map(({ n, hz }) => (hz / n) ** 2),
    found.map(({ n, power }) => n * n * power),
  );
}

/** Where the partials so far put the next one. */
function stretched(found: readonly Found[], n: number): number {
  const { intercept, slope } = lineOf(found);
  return n * Math.sqrt(Math.max(0, intercept + slope * n * n));
}

const medianCents = (found: readonly Found[], hzOf: (n: number) => number) =>
  median(found.map(({ n, hz }) => Math.abs(1200 * Math.log2(hz / hzOf(n)))));

/** Radians that a line turns on from value to value, weighted by power. */
function meanOffset({ re, im }: PartialEnvelopes['partials'][number], first: number, last: number): number {
  let a = 0;
  let b = 0;
  for (let i = first; i < last; i++) {
    a += re[i] * re[i + 1] + im[i] * im[i + 1];
    b += re[i] * im[i + 1] - im[i] * re[i + 1];
  }
  return Math.atan2(b, a);
}
