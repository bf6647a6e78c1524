import type { FilterTrack } from '../reading/spectra/filterTrack';
import { type Overrules, applyOverrules } from '../reading/hand/overrules';
import type { Measurement } from '../reading/read';

/**
 * A measurement with values set by hand in place of those that were found, as far as it has them. The
 * measurement itself stays as it is.
 */
export function overruledMeasurement(measured: Measurement, overrules: Overrules): Measurement {
  const { attackSeconds, holdSeconds, decaySeconds, sustainDb, releaseSeconds, voices, detuneCents } = overrules;
  const contour = { attackSeconds, holdSeconds, decaySeconds, sustainDb, releaseSeconds };
  const { traits, ...rest } = applyOverrules(measured.reading, overrules);
  const isCounted = voices !== undefined || detuneCents !== undefined;
  // What is set by hand is sure.
  const unison = isCounted ? { ...traits.unison, confidence: 1 } : traits.unison;
  return {
    ...measured,
    reading: { ...rest, traits: { ...traits, unison } },
    fitted: { ...measured.fitted, ...given(contour) },
    filter: measured.filter && overruledFilter(measured.filter, measured.reading.traits.brightness.cutoffHz, overrules),
  };
}

/** The whole way of the cutoff is moved by as many octaves as the one that was told. */
function overruledFilter(
  filter: FilterTrack,
  toldHz: number | null,
  { cutoffHz, resonanceDb }: Overrules,
): FilterTrack {
  const ratio = cutoffHz !== undefined && toldHz !== null ? cutoffHz / toldHz : 1;
  return { ...filter, cutoffHz: filter.cutoffHz.map((hz) => hz * ratio), ...given({ resonanceDb }) };
}

/** The entries that have a value. */
function given<T extends object>(values: T): { [K in keyof T]?: NonNullable<T[K]> } {
  return Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined)) as never;
}
