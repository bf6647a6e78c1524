import { hzFromMidi } from '../../../dsp/pitch';
import type { NoteMovement } from '../../movement/noteMovement';
import { averageLevelsDb } from '../../partials/averageLevels';
import { type Followed, type SteadyNoise, measureNoise } from '../../spectra/noise';
import { findStartNoise, highestPartial } from '../../spectra/startNoise';
import type { TraitDescriptor } from '../descriptor';
import { NO_PITCH, several } from '../doubts';
import { overlap } from '../../notes/overlap';
import { pitchAt, soloPartials } from '../../evidenceSounds';
import { toMono } from '../../audio';
import type { ReadingNote } from '../../schema';

/** As many partials as are taken out of the noise. */
const MOST_PARTIALS = 256;

const START_CONFIDENCE = 0.6;
const GATED_DB = 4;
const GATED_NOISE_DB = -20;

/** So many of the longest notes of a line are looked at. */
const NOTES_LOOKED = 4;

/** Noise that is under each of the longest notes of a line, between its own partials. */
function noiseOfNotes(sound: Followed, notes: readonly ReadingNote[], below: number): SteadyNoise {
  const { mono, sampleRateHz } = sound;
  const longest = [...notes].sort((a, b) => b.durationSeconds - a.durationSeconds).slice(0, NOTES_LOOKED);
  const told = longest
    .map(({ midi, cents, onsetSeconds, durationSeconds }) => {
      const f0Hz = below * hzFromMidi(midi + cents / 100);
      const [from, to] = [onsetSeconds, onsetSeconds + durationSeconds].map((at) => Math.round(at * sampleRateHz));
      const note = { ...sound, mono: mono.subarray(from, to), f0Hz, f0At: () => f0Hz };
      return measureNoise(note, 0, durationSeconds);
    })
    .filter(({ confidence }) => confidence > 0);
  return told.reduce(
    (a, b) => (!a.found || (b.found && a.found.levelDb < b.found.levelDb) ? a : b),
    told[0] ?? { confidence: 0 },
  );
}

const moves = ({ unison, vibrato, motion }: NoteMovement) =>
  unison.detuneCents !== null || vibrato !== undefined || motion.length > 0;

const told = ({ levelDb, centroidHz }: { levelDb: number; centroidHz: number }) => ({
  levelDb: Number(levelDb.toFixed(2)),
  centroidHz: Math.round(centroidHz),
});

export const noise = {
  measure(material) {
    const { mono, sampleRateHz, notes, partials, fundamental, f0At, fitted, movement, sidebands } = material;
    const { fromSeconds, toSeconds } = material;
    const nothing = { levelDb: null, centroidHz: null, attackOnly: null };
    // Stretched partials, sidebands and the partials of other notes stand where noise is looked for.
    const isCrowded = movement?.inharmonicity || sidebands.fm || sidebands.ring || overlap({ notes });
    if (!partials || !fundamental || !f0At || isCrowded) return { ...nothing, confidence: 0 };
    const { f0Hz } = fundamental;
    const isMoving = movement !== undefined && moves(movement);
    // A sub is no noise either: partials are counted from the lowest source.
    const below = Math.min(1, (material.sources?.lowestHz ?? f0Hz) / f0Hz);
    const lowest = { mono, sampleRateHz, f0Hz: below * f0Hz, f0At: (at: number) => below * f0At(at), isMoving };
    const steady = notes.length > 1 ? noiseOfNotes(lowest, notes, below) : measureNoise(lowest, fromSeconds, toSeconds);
    // Edges of a gate stand between the partials as well.
    const isGated = movement?.motion.some(({ of, depth }) => of === 'loudness' && depth > GATED_DB);
    if (steady.found && !(isGated && steady.found.levelDb < GATED_NOISE_DB))
      return { ...told(steady.found), attackOnly: false, confidence: steady.confidence };
    // Of a pitch that slides, and of voices that beat, periods are not alike.
    if (!movement || movement.sweep || movement.vibrato || movement.unison.detuneCents !== null)
      return { ...nothing, confidence: steady.confidence };
    const highest = highestPartial(averageLevelsDb(partials, fitted), partials, fromSeconds);
    const { onsetSeconds, attackSeconds } = fitted;
    const cornersSeconds = [onsetSeconds, onsetSeconds + attackSeconds];
    const start = findStartNoise({ mono, sampleRateHz, f0Hz, highest, fromSeconds, toSeconds, cornersSeconds });
    return start
      ? { ...told(start), attackOnly: true, confidence: START_CONFIDENCE }
      : { ...nothing, confidence: steady.confidence };
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
    noise(audio, { traits: { pitch, sources } }) {
      if (pitch.f0Hz === null) return undefined;
      // A sub is no noise either: partials are counted from the lowest source.
      const below = 2 ** (Math.min(0, ...sources.parts.map(({ semitones }) => semitones)) / 12);
      const hzAt = pitchAt(pitch.contour, pitch.f0Hz);
      const partials = soloPartials(audio, below * pitch.f0Hz, (at) => below * hzAt(at), 1, MOST_PARTIALS);
      return [toMono(audio).map((x, i) => x - partials[i])];
    },
  },
} satisfies TraitDescriptor<'noise'>;
