import type { LevelContour } from './levelContour';

/** This far down (-50 dB) there is nothing of the tone yet. */
const SILENT_SHARE = 0.003;
const SILENCE_SECONDS = 0.02;

/**
 * The contour from a little silence before its sound on, however much of it the cut has: where a cut begins
 * says nothing about the tone. `fromSeconds` is where that is in the cut, less than 0 if before it.
 */
export function fromSilence(contour: LevelContour, top: number): { contour: LevelContour; fromSeconds: number } {
  const { rms, hopSeconds, before, ripple, waveform } = contour;
  const whole = before ? Float64Array.from([...before, ...rms]) : rms;
  const first = whole.findIndex((value) => value > SILENT_SHARE * top);
  const silence = Math.round(SILENCE_SECONDS / hopSeconds);
  if (!before || first < 0) return { contour, fromSeconds: 0 };
  const framed = new Float64Array(whole.length - first + silence);
  const from = first - silence;
  framed.set(whole.subarray(Math.max(0, from)), Math.max(0, -from));
  const fromSeconds = (from - before.length) * hopSeconds;
  return {
    contour: {
      ...contour,
      rms: framed,
      before: undefined,
      ripple: ripple && { ...ripple, originSeconds: ripple.originSeconds - fromSeconds },
      waveform: waveform && { ...waveform, fromSeconds: waveform.fromSeconds - fromSeconds },
    },
    fromSeconds,
  };
}
