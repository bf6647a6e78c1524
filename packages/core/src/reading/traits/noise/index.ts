import { measureNoise } from '../../spectra/noise';
import type { TraitDescriptor } from '../descriptor';
import { NO_PITCH, several } from '../doubts';
import { pitchAt, soloPartials } from '../../evidenceSounds';
import { toMono } from '../../audio';

/** As many partials as are taken out of the noise. */
const MOST_PARTIALS = 256;

export const noise = {
  measure({ mono, sampleRateHz, partials, fundamental, f0At, movement, fromSeconds, toSeconds }) {
    // Stretched partials stand where noise is looked for.
    if (!partials || !fundamental || !f0At || movement?.inharmonicity)
      return { levelDb: null, centroidHz: null, attackOnly: null, confidence: 0 };
    return measureNoise({ mono, sampleRateHz, f0Hz: fundamental.f0Hz, f0At }, partials, fromSeconds, toSeconds);
  },

  doubt: (reading) => {
    if (reading.traits.pitch.f0Hz === null) return NO_PITCH;
    if (reading.traits.partials.inharmonicity) return 'stretched partials stand where noise is looked for';
    if (several(reading)) return 'what changes from note to note stands between the partials as well';
    return reading.traits.unison.detuneCents === null
      ? 'the note is too short to tell noise from movement'
      : 'detuned voices stand between the partials as well';
  },

  evidence: {
    noise(audio, { traits: { pitch } }) {
      if (pitch.f0Hz === null) return undefined;
      const partials = soloPartials(audio, pitch.f0Hz, pitchAt(pitch.contour, pitch.f0Hz), 1, MOST_PARTIALS);
      return [toMono(audio).map((x, i) => x - partials[i])];
    },
  },
} satisfies TraitDescriptor<'noise'>;
