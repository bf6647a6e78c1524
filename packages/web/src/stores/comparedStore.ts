import { create } from 'zustand';
import type { Stretch } from '../drawing/stretch';

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

/** Proofs and candidates are of one cut, and so is what is looked at closely. */
export function forgetCompared(): void {
  useCompared.setState(usual);
  showAll();
}

/** The moment of the note that all pictures show, s from the start of the cut. */
export const useMoment = create<{ seconds: number }>(() => ({ seconds: 0.2 }));

export const showMoment = (seconds: number, durationSeconds: number): void =>
  useMoment.setState({ seconds: Math.min(durationSeconds, Math.max(0, seconds)) });

type ZoomAxis = 'time' | 'hz';

interface Zoom {
  /** What the pictures show of both; null for all there is. */
  time: Stretch | null;
  hz: Stretch | null;
  /** What the keys make larger: that over which the pointer is, or which has the focus. */
  axis: ZoomAxis;
  /** The frequency that was pointed at last. */
  aroundHz: number;
}

export const useZoom = create<Zoom>(() => ({ time: null, hz: null, axis: 'time', aroundHz: 440 }));

export const showAll = (): void => useZoom.setState({ time: null, hz: null });
