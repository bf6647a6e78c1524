import { create } from 'zustand';

/**
 * What is compared: the reference, the patch as it is, a proof that was kept, or a candidate of a match; the
 * last two by their ids.
 */
export type Choice = 'reference' | 'patch' | `proof ${string}` | `candidate ${string} ${string}`;

interface Compared {
  /** Printed in blue, and in red. */
  first: Choice;
  second: Choice;
  /** Whether spectra are smoothed over an auditory filter. */
  smooth: boolean;
}

const usual = { first: 'reference', second: 'patch' } as const;

export const useCompared = create<Compared>(() => ({ ...usual, smooth: false }));

/** Proofs and candidates are of one cut. */
export const forgetCompared = (): void => useCompared.setState(usual);

/** The moment of the note that all pictures show, s from the start of the cut. */
export const useMoment = create<{ seconds: number }>(() => ({ seconds: 0.2 }));

export const showMoment = (seconds: number, durationSeconds: number): void =>
  useMoment.setState({ seconds: Math.min(durationSeconds, Math.max(0, seconds)) });
