import { frameMiddle } from '../../dsp/stft';
import type { Mask } from './mask';
import { steadyLevels } from './tonalMask';

/** An onset this near to a note's is the note's own. */
const OWN_SECONDS = 0.05;
/** How long a hit is looked for after its onset. */
const HIT_SECONDS = 0.18;

/**
 * Takes every bin down to its own median over the time around, while a hit sounds that is no note's onset.
 */
export const hitMask: Mask = {
  isWanted: ({ hitsDown }) => hitsDown,
  apply({ sampleRateHz, spectra: [stft], levels, notes, onsets }, mask) {
    const strange = onsets.filter((at) => !notes.some((note) => Math.abs(note.onsetSeconds - at) < OWN_SECONDS));
    if (strange.length === 0) return;
    const steady = steadyLevels(levels, stft, sampleRateHz);
    const { bins, count, size } = stft;
    const halfFrame = size / 2 / sampleRateHz;
    for (let frame = 0; frame < count; frame++) {
      const at = frameMiddle(frame, size) / sampleRateHz;
      if (!strange.some((onset) => at > onset - halfFrame && at < onset + HIT_SECONDS + halfFrame)) continue;
      for (let i = frame * bins; i < (frame + 1) * bins; i++) {
        if (levels[i] > steady[i]) mask[i] *= steady[i] / levels[i];
      }
    }
  },
};
