import { midiFromHz } from '../../../dsp/pitch';
import { rounded, toSeries } from '../../documentParts';
import type { TraitDescriptor } from '../descriptor';
import { several } from '../doubts';
import { overlap } from '../../notes/overlap';
import { fill, gainAt, pitchAt } from '../../evidenceSounds';

export const pitch = {
  measure({ track, fundamental, root, movement, fromSeconds, glideSeconds }) {
    const hop = track.seconds.length > 1 ? track.seconds[1] - track.seconds[0] : 0.01;
    const lead = Math.round(track.seconds[0] / hop);
    // The track follows the period of the whole.
    const octaves = root?.multiple ?? 1;
    const clear = track.f0Hz.map((hz, i) => (track.clarity[i] > 0.6 ? octaves * hz : NaN));
    const contour = toSeries(hop, [...new Array<number>(lead).fill(NaN), ...clear]);
    const { sweep, vibrato, driftCents } = movement ?? {};
    const moved = {
      vibrato: vibrato
        ? {
            rateHz: rounded(vibrato.rateHz),
            depthCents: rounded(vibrato.depth),
            onsetSeconds: rounded(Math.max(0, vibrato.onsetSeconds - fromSeconds)),
          }
        : null,
      sweep: sweep ? { semitones: rounded(sweep.semitones), seconds: rounded(sweep.seconds) } : null,
      driftCents: driftCents === undefined ? null : rounded(driftCents, 4),
      glideSeconds: glideSeconds === undefined ? null : rounded(glideSeconds),
      contour,
    };
    if (!fundamental || !root) return { f0Hz: null, midi: null, cents: null, ...moved, confidence: 0 };
    const exact = midiFromHz(root.hz);
    const midi = Math.round(exact);
    return {
      f0Hz: rounded(root.hz, 9),
      midi,
      cents: rounded((exact - midi) * 100),
      ...moved,
      confidence: fundamental.confidence,
    };
  },

  doubt: (reading) => {
    if (reading.traits.pitch.f0Hz === null)
      return 'nothing in the cut repeats steadily: it is noise, hits or several tones';
    if (overlap(reading)) return 'notes overlap';
    return several(reading)
      ? 'the notes of a phrase have pitches of their own'
      : 'only a part of the cut repeats at this pitch';
  },

  evidence: {
    pitch(audio, { traits: { pitch, loudness } }) {
      if (pitch.f0Hz === null) return undefined;
      const hzAt = pitchAt(pitch.contour, pitch.f0Hz);
      let cycles = 0;
      return [
        fill(audio, (seconds) => {
          cycles += hzAt(seconds) / audio.sampleRateHz;
          return gainAt(loudness.contour, seconds) * Math.sin(2 * Math.PI * cycles);
        }),
      ];
    },
  },
} satisfies TraitDescriptor<'pitch'>;
