import { decibelsFromGain } from '../../../dsp/decibels';
import { frameAmplitudes } from '../../partials/partialFrames';
import { nearestShape, oddMinusEvenDb, standoutPartials, tiltDbPerOctave } from '../../partials/spectralShape';
import { averageLevelsDb } from '../../partials/averageLevels';
import { strongest } from '../../spectra/filterTrack';
import { rounded } from '../../documentParts';
import type { TraitDescriptor } from '../descriptor';
import { NO_PITCH, OVERLAP } from '../doubts';
import { overlap } from '../../notes/overlap';
import { pitchAt, soloPartials } from '../../evidenceSounds';

/** Partials kept per frame in the reading's plot. */
const PLOTTED_PARTIALS = 24;

/** Lines that are no multiples of the pitch say little as partials. */
const BETWEEN = 0.4;

/** Of the partials of the whole, those of its root; of a root that is none of them, nothing but itself. */
function ownPartials(values: ArrayLike<number>, multiple: number): number[] {
  if (!Number.isInteger(multiple)) return [0];
  return Array.from({ length: Math.floor(values.length / multiple) }, (_, i) => values[(i + 1) * multiple - 1]);
}

export const partials = {
  measure({ partials: frames, fitted, fundamental, movement, root, sidebands }) {
    const empty = { hopSeconds: 0.01, frames: [] };
    if (!frames || !fundamental || !root) {
      return {
        levelsDb: [],
        oddMinusEvenDb: null,
        tiltDbPerOctave: null,
        inharmonicity: null,
        standout: [],
        nearestShape: null,
        pulseWidth: null,
        overTime: empty,
        confidence: 0,
      };
    }
    const levelsDb = sidebands.ring?.levelsDb ?? ownPartials(averageLevelsDb(frames, fitted), root.multiple);
    const shape = nearestShape(levelsDb);
    const loudest = strongest(frames.amplitudes);
    const step = Math.max(1, Math.ceil(frames.seconds.length / 120));
    const kept = [...frames.seconds.keys()].filter((t) => t % step === 0);
    const hop = frames.seconds.length > 1 ? frames.seconds[1] - frames.seconds[0] : 0.01;
    const tilt = tiltDbPerOctave(levelsDb);
    const oddEven = oddMinusEvenDb(levelsDb);
    return {
      levelsDb,
      oddMinusEvenDb: oddEven === null ? null : rounded(oddEven, 5),
      tiltDbPerOctave: tilt === null ? null : rounded(tilt, 5),
      inharmonicity: movement?.inharmonicity === undefined ? null : rounded(movement.inharmonicity, 4),
      standout: standoutPartials(levelsDb),
      nearestShape: shape.shape,
      pulseWidth: shape.pulseWidth,
      overTime: {
        hopSeconds: hop * step,
        frames: kept.map((t) =>
          ownPartials(frameAmplitudes(frames, t), root.multiple)
            .slice(0, PLOTTED_PARTIALS)
            .map((a) => rounded(Math.max(-100, decibelsFromGain(a / loudest)), 4)),
        ),
      },
      confidence: fundamental.confidence * (Number.isInteger(root.multiple) ? 1 : BETWEEN),
    };
  },

  doubt: (reading) => (reading.traits.pitch.f0Hz === null ? NO_PITCH : overlap(reading) ? OVERLAP : undefined),

  evidence: {
    partial(audio, { traits: { pitch } }, number) {
      if (pitch.f0Hz === null) return undefined;
      return [soloPartials(audio, pitch.f0Hz, pitchAt(pitch.contour, pitch.f0Hz), number, number)];
    },
  },
} satisfies TraitDescriptor<'partials'>;
