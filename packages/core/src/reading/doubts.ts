import type { Reading } from './schema';

type Group = keyof Reading['traits'];
type Doubts = Reading['doubts'];

/** Under this, a reason is given. */
const SURE = 0.75;

/** Why what was read of a group is not sure; nothing where it is. In words, as a sentence without its end. */
export function doubtsOf(reading: Omit<Reading, 'doubts'>): Doubts {
  const doubts: Doubts = {};
  for (const group of Object.keys(reasons) as Group[]) {
    const { [group]: trait } = reading.traits;
    if (!Array.isArray(trait) && trait.confidence >= SURE) continue;
    const reason = reasons[group](reading);
    if (reason) doubts[group] = reason;
  }
  return doubts;
}

type Reason = (reading: Omit<Reading, 'doubts'>) => string | undefined;

const overlap = ({ notes }: Omit<Reading, 'doubts'>) =>
  notes.some((note, i) =>
    notes.some((other, k) => k > i && other.onsetSeconds < note.onsetSeconds + 0.7 * note.durationSeconds),
  );

const several = ({ notes }: Omit<Reading, 'doubts'>) => notes.length > 1;

const NO_PITCH = 'no pitch was found, so there are no partials to follow';
const OVERLAP = 'notes overlap, and their partials are mixed';

const reasons: Record<Group, Reason> = {
  pitch: (reading) => {
    if (reading.traits.pitch.f0Hz === null)
      return 'nothing in the cut repeats steadily: it is noise, hits or several tones';
    if (overlap(reading)) return 'notes overlap';
    return several(reading)
      ? 'the notes of a phrase have pitches of their own'
      : 'only a part of the cut repeats at this pitch';
  },
  loudness: (reading) => {
    const { fitErrorDb } = reading.traits.loudness;
    if (several(reading)) return 'several notes have a contour each, and this is the one around all of them';
    return fitErrorDb === null
      ? undefined
      : `the level strays from the envelope by ${fitErrorDb.toFixed(1)} dB on the average: something else moves it`;
  },
  brightness: (reading) => {
    const { cutoffHz, sweep } = reading.traits.brightness;
    if (cutoffHz === null) return NO_PITCH;
    if (overlap(reading)) return OVERLAP;
    if (!sweep) return 'the brightness stands still: a darker source would sound the same as a filter';
    return 'the partials are not those of a plain source behind a low-pass';
  },
  partials: (reading) => (reading.traits.pitch.f0Hz === null ? NO_PITCH : overlap(reading) ? OVERLAP : undefined),
  noise: (reading) => {
    if (reading.traits.pitch.f0Hz === null) return NO_PITCH;
    if (reading.traits.partials.inharmonicity) return 'stretched partials stand where noise is looked for';
    if (several(reading)) return 'what changes from note to note stands between the partials as well';
    return reading.traits.unison.detuneCents === null
      ? 'the note is too short to tell noise from movement'
      : 'detuned voices stand between the partials as well';
  },
  unison: (reading) => {
    if (reading.traits.pitch.f0Hz === null) return NO_PITCH;
    if (several(reading)) return 'voices are told from one note at a time';
    const { voices, detuneCents } = reading.traits.unison;
    if (detuneCents !== null && voices === null)
      return 'the voices lie closer than the length of the note can tell apart';
    return 'too few partials, or too short a note';
  },
  width: (reading) => (reading.channels === 1 ? undefined : 'the cut is too short for its low bands'),
  motion: (reading) => {
    if (reading.traits.motion.some(({ confidence }) => confidence < SURE))
      return 'few turns were seen, or another cause explains nearly as much';
    return several(reading) ? 'movements are told from one note at a time' : undefined;
  },
  space: (reading) => {
    if (several(reading)) return 'the room is told from what follows a single note';
    return reading.traits.loudness.noteOffSeconds === null
      ? 'the end of the note is not in the cut, and what follows it tells the room'
      : 'the tail after the note is short or lies under the floor';
  },
  dirt: (reading) => {
    if (several(reading)) return 'several notes have no one waveform to compare';
    return 'the note hardly changes its level, and how the waveform changes with it tells a drive';
  },
};
