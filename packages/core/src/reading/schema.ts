import { z } from 'zod';

const number = z.number();
const found = z.number().nullable();
const confidence = z.number().min(0).max(1);

/** A measured line over time, one value every `hopSeconds` from the start of the cut. */
const series = z.object({ hopSeconds: z.number().positive(), values: z.array(z.number().nullable()).max(20000) });

export const noteSchema = z.object({
  onsetSeconds: number,
  durationSeconds: number,
  midi: z.int().min(0).max(127),
  cents: number,
  levelDb: number,
});

/** Readings of other versions lack traits; cuts are then read again. */
export const READING_VERSION = 4;

/**
 * All traits of one cut: the document of `imprint read --json`, and what is stored and compared. `null` says that
 * nothing was found; a confidence of 0, that nothing is claimed.
 */
export const readingSchema = z.object({
  version: z.literal(READING_VERSION),
  durationSeconds: number,
  sampleRateHz: number,
  channels: z.int(),
  tempo: z.object({ bpm: found, confidence }),
  key: z.object({ tonic: z.string().nullable(), mode: z.string().nullable(), confidence }),
  notes: z.array(noteSchema),
  traits: z.object({
    pitch: z.object({
      f0Hz: found,
      midi: z.int().nullable(),
      cents: found,
      vibrato: z.object({ rateHz: number, depthCents: number, onsetSeconds: number }).nullable(),
      sweep: z.object({ semitones: number, seconds: number }).nullable(),
      /** From note to note of a line, the whole way. */
      glideSeconds: found,
      /** From the first to the last third of a note, once it has settled. */
      driftCents: found,
      /** Fundamental over time, Hz. */
      contour: series,
      confidence,
    }),
    loudness: z.object({
      lufs: found,
      peakDb: found,
      crestDb: found,
      onsetSeconds: found,
      /** Whether the tone sounds from the first sample on: it was struck before the cut. */
      startsSounding: z.boolean(),
      attackSeconds: found,
      holdSeconds: found,
      decaySeconds: found,
      sustainDb: found,
      noteOffSeconds: found,
      releaseSeconds: found,
      /** RMS of the fitted contour at its full level, dB. */
      fullLevelDb: found,
      fitErrorDb: found,
      /** RMS level over time, dB. */
      contour: series,
      confidence,
    }),
    brightness: z.object({
      centroidHz: found,
      cutoffHz: found,
      slopeDbPerOctave: found,
      /** Gain at the cutoff over that of a Butterworth low-pass. */
      resonanceDb: found,
      filterKind: z.enum(['lowpass', 'highpass', 'bandpass']).nullable(),
      /** Edge of a high-pass that stands still, which would explain weak low partials. */
      highpassHz: found,
      highpassSlopeDbPerOctave: found,
      /** A notch that goes through the partials once. */
      notch: z.object({ fromHz: number, toHz: number, seconds: number, depthDb: number }).nullable(),
      sweep: z.object({ fromHz: number, toHz: number, seconds: number }).nullable(),
      /** Centroid over time, Hz. */
      contour: series,
      /** Cutoff of the explaining low-pass over time, Hz. */
      cutoffContour: series,
      confidence,
    }),
    partials: z.object({
      levelsDb: z.array(number).max(512),
      oddMinusEvenDb: found,
      tiltDbPerOctave: found,
      inharmonicity: found,
      standout: z.array(z.int()),
      nearestShape: z.enum(['sine', 'triangle', 'saw', 'square', 'pulse']).nullable(),
      pulseWidth: found,
      /** Levels of the first partials over time, dB relative to the strongest of the whole cut; one list a frame. */
      overTime: z.object({ hopSeconds: z.number().positive(), frames: z.array(z.array(number)).max(4000) }),
      confidence,
    }),
    noise: z.object({ levelDb: found, centroidHz: found, attackOnly: z.boolean().nullable(), confidence }),
    unison: z.object({
      detuneCents: found,
      beatHz: found,
      voices: found,
      /** Power around the partials by distance in cents, dB against the strongest, what they agree on; empty when not looked at. */
      spectrum: z.object({ fromCents: number, stepCents: z.number().positive(), levelsDb: z.array(number).max(400) }),
      confidence,
    }),
    width: z.object({
      correlation: found,
      monoBelowHz: found,
      /** What makes it wide. */
      cause: z.enum(['detune', 'delay', 'reverb', 'panning']).nullable(),
      /** Of a delay between the channels; positive when the right one is late. */
      delaySeconds: found,
      bands: z.array(z.object({ fromHz: number, toHz: number, widthDb: number })),
      confidence,
    }),
    motion: z.array(
      z.object({
        of: z.enum(['loudness', 'brightness', 'pitch', 'width']),
        rateHz: number,
        division: z.string().nullable(),
        /** From its lowest to its highest; of vibrato, to either side. */
        depth: number,
        unit: z.enum(['dB', 'octaves', 'cents', 'ms']),
        shape: z.string(),
        cause: z.enum(['tremolo', 'ducking', 'chorus', 'phaser', 'filter', 'vibrato', 'beating']),
        confidence,
      }),
    ),
    space: z.object({
      rt60Seconds: found,
      preDelaySeconds: found,
      echo: z.object({ seconds: number, division: z.string().nullable(), feedback: number }).nullable(),
      confidence,
    }),
    dirt: z.object({
      kind: z.enum(['none', 'soft', 'hard', 'fold', 'crush']).nullable(),
      amount: found,
      bits: found,
      holdHz: found,
      confidence,
    }),
  }),
  /** How many layers would explain the tone, lowest first, with their edges. */
  layers: z.array(
    z.object({ name: z.enum(['sub', 'body', 'attack', 'air']), fromHz: number, toHz: number, reason: z.string() }),
  ),
  /** Why what was read of a group is not sure. */
  doubts: z.partialRecord(
    z.enum(['pitch', 'loudness', 'brightness', 'partials', 'noise', 'unison', 'width', 'motion', 'space', 'dirt']),
    z.string(),
  ),
});

export type Reading = z.infer<typeof readingSchema>;
export type ReadingNote = z.infer<typeof noteSchema>;
export type Series = z.infer<typeof series>;

/** Value of a series at a time, the nearest frame; null outside and where nothing was measured. */
export function seriesAt({ hopSeconds, values }: Series, seconds: number): number | null {
  return values[Math.round(seconds / hopSeconds)] ?? null;
}
