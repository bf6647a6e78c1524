import type { TraitDescriptor } from '../descriptor';
import { several } from '../doubts';
import { FADE_SECONDS } from '../../evidenceSounds';
import { durationOf } from '../../audio';
import { noSpace } from '../../space/space';

export const space = {
  measure: ({ movement }) => movement?.space ?? { ...noSpace, confidence: 0 },

  doubt: (reading) => {
    if (several(reading)) return 'the room is told from what follows a single note';
    return reading.traits.loudness.noteOffSeconds === null
      ? 'the end of the note is not in the cut, and what follows it tells the room'
      : 'the tail after the note is short or lies under the floor';
  },

  evidence: {
    tail(audio, { traits: { loudness } }) {
      const end = durationOf(audio);
      const from = loudness.noteOffSeconds ?? (loudness.onsetSeconds ?? 0) + (loudness.attackSeconds ?? 0);
      if (from > end - 0.05) return undefined;
      const fade = (seconds: number) => Math.max(0, Math.min(1, (seconds - from) / FADE_SECONDS));
      return audio.channels.map((channel) => Float64Array.from(channel, (x, i) => x * fade(i / audio.sampleRateHz)));
    },
  },
} satisfies TraitDescriptor<'space'>;
