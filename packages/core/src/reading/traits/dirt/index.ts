import { audibleUntil } from '../../level/levelContour';
import { averageLevelsDb } from '../../partials/averageLevels';
import { measureDirt } from '../../spectra/dirt';
import type { TraitDescriptor } from '../descriptor';
import { several } from '../doubts';

export const dirt = {
  measure: (material) =>
    measureDirt({
      samples: material.audio.channels[0],
      sampleRateHz: material.sampleRateHz,
      // Of several notes, and of what is multiplied, there is no waveform to compare.
      f0Hz: material.notes.length === 1 && !material.sidebands.ring ? material.fundamental?.f0Hz : undefined,
      fromSeconds: material.fromSeconds,
      // How a waveform changes as it dies away says most, also after the note was let go.
      toSeconds: audibleUntil(material.level),
      partialsDb: material.partials && material.fundamental ? averageLevelsDb(material.partials, material.fitted) : [],
    }),

  doubt: (reading) => {
    if (several(reading)) return 'several notes have no one waveform to compare';
    return 'the note hardly changes its level, and how the waveform changes with it tells a drive';
  },

  evidence: {},
} satisfies TraitDescriptor<'dirt'>;
