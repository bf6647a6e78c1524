import { hzFromMidi } from '../../dsp/pitch';
import { type Stft, frameMiddle } from '../../dsp/stft';
import { median } from '../statistics';
import type { Mask, MaskInput } from './mask';
import type { ReadingNote } from '../schema';

/** Around the found pitch, within which a note is followed, and the step of the search. */
const FOLLOW_CENTS = 80;
const STEP_CENTS = 4;
/** Partials that tell the pitch of a frame. */
const TELLING = 12;
/** Frames over which the pitch is evened out, on either side. */
const EVEN_FRAMES = 2;
/** Half the width of a partial: the window's main lobe, and what detuned voices and vibrato take. */
const LOBE_BINS = 1.6;
const SPREAD = 0.005;
/** Over which the mask falls to nothing beyond that. */
const SLOPE_BINS = 1.2;
const LEAD_SECONDS = 0.02;
/** A note may ring on until another begins, but not longer. */
const MOST_TAIL_SECONDS = 2;
/** Notes that begin within it belong to one chord. */
const CHORD_SECONDS = 0.08;
/** Bins without partials that tell how loud the rest is around a bin. */
const FLOOR_BINS = 12;

/**
 * The partials of the notes: a comb for every note, which follows its pitch from frame to frame, less what
 * the bins between the combs say of the rest (a soft mask with the transient's own subtracted).
 */
export const partialMask: Mask = {
  isWanted: ({ partialsOnly }) => partialsOnly,
  apply(input, mask) {
    const comb = combOf(input);
    const { bins, count } = input.spectra[0];
    const floor = new Float64Array(bins);
    for (let frame = 0; frame < count; frame++) {
      const row = frame * bins;
      fillFloor(input.levels.subarray(row, row + bins), comb.subarray(row, row + bins), floor);
      for (let k = 0; k < bins; k++) {
        const level = input.levels[row + k];
        const own = level > 0 ? Math.max(0, 1 - (floor[k] / level) ** 2) : 0;
        mask[row + k] *= comb[row + k] * own;
      }
    }
  },
};

/** 0..1 for every frame and bin: how much of it is a partial of a note. */
export function combOf(input: MaskInput): Float32Array {
  const { isolation, sampleRateHz, spectra, levels, notes } = input;
  const { bins, count, size } = spectra[0];
  const comb = new Float32Array(levels.length);
  for (const note of notes) {
    const [from, to] = soundingFrames(note, input);
    const pitches = followPitch(note, from, to, input);
    const spreads = spreadsOf(pitches, spectra[0]);
    for (let frame = from; frame < to; frame++) {
      const f0 = (pitches[frame - from] * size) / sampleRateHz;
      const row = Math.min(count - 1, frame) * bins;
      // Of a sub only the fundamental: its other partials may as well be a fifth's.
      for (let n = isolation.withSub ? 0.5 : 1; n * f0 < bins - 1; n = Math.floor(n + 1)) {
        const centre = n * f0;
        // Partials that stand closer than their lobes share what is between them.
        const half = Math.min(LOBE_BINS + spreads[frame - from] * centre, 0.45 * f0 + 0.5);
        const last = Math.min(bins - 1, Math.ceil(centre + half + SLOPE_BINS));
        for (let k = Math.max(0, Math.floor(centre - half - SLOPE_BINS)); k <= last; k++) {
          const outside = (Math.abs(k - centre) - half) / SLOPE_BINS;
          comb[row + k] = Math.max(comb[row + k], Math.min(1, 1 - outside));
        }
      }
    }
  }
  return comb;
}

/** How far partials stray, against their frequency: by how far the pitch moves within a window. */
function spreadsOf(pitches: Float64Array, { size, hop }: Stft): Float64Array {
  const reach = Math.ceil(size / hop / 2);
  return pitches.map((pitch, i) => {
    const near = pitches.subarray(Math.max(0, i - reach), i + reach + 1);
    const [least, most] = near.reduce(([low, high], x) => [Math.min(low, x), Math.max(high, x)], [pitch, pitch]);
    return SPREAD + Math.max(most - pitch, pitch - least) / pitch;
  });
}

/** First frame and the one after the last in which a note may be heard. */
function soundingFrames(note: ReadingNote, { spectra, sampleRateHz, notes }: MaskInput): [number, number] {
  const { size, count } = spectra[0];
  const end = note.onsetSeconds + note.durationSeconds;
  const next = notes.reduce((soonest, { onsetSeconds }) => {
    return onsetSeconds > note.onsetSeconds + CHORD_SECONDS ? Math.min(soonest, onsetSeconds) : soonest;
  }, Infinity);
  const last = Math.max(end, Math.min(next, end + MOST_TAIL_SECONDS));
  const halfFrame = size / 2 / sampleRateHz;
  let from = 0;
  while (from < count && frameMiddle(from, size) / sampleRateHz + halfFrame / 2 < note.onsetSeconds - LEAD_SECONDS)
    from++;
  let to = from;
  while (to < count && frameMiddle(to, size) / sampleRateHz - halfFrame / 2 < last) to++;
  return [from, to];
}

/** Pitch of a note in Hz in each of its frames: where its partials have most, evened out by a median. */
function followPitch(
  note: ReadingNote,
  from: number,
  to: number,
  { spectra, sampleRateHz, levels }: MaskInput,
): Float64Array {
  const { bins, size } = spectra[0];
  const nominal = hzFromMidi(note.midi + note.cents / 100);
  const raw = new Float64Array(to - from).fill(nominal);
  for (let frame = from; frame < to; frame++) {
    const row = levels.subarray(frame * bins, (frame + 1) * bins);
    let most = 0;
    for (let cents = -FOLLOW_CENTS; cents <= FOLLOW_CENTS; cents += STEP_CENTS) {
      const hz = nominal * 2 ** (cents / 1200);
      let sum = 0;
      for (let n = 1; n <= TELLING; n++) {
        const at = (n * hz * size) / sampleRateHz;
        const k = Math.floor(at);
        if (k + 1 >= bins) break;
        sum += Math.sqrt(row[k] + (at - k) * (row[k + 1] - row[k]));
      }
      // Where nothing tells, the note stays where it was found.
      sum *= 1 - 0.05 * Math.abs(cents / FOLLOW_CENTS);
      if (sum > most) {
        most = sum;
        raw[frame - from] = hz;
      }
    }
  }
  return raw.map((_, i) => median(raw.subarray(Math.max(0, i - EVEN_FRAMES), i + EVEN_FRAMES + 1)));
}

/**
 * How loud the rest is at every bin: the median of the nearest bins on both sides that no comb takes, so that
 * partials of others between those of the notes do not count.
 */
function fillFloor(levels: Float32Array, comb: Float32Array, floor: Float64Array): void {
  const free: number[] = [];
  for (let k = 0; k < levels.length; k++) if (comb[k] < 0.05) free.push(k);
  floor.fill(0);
  if (free.length === 0) return;
  let from = 0;
  // From one free bin to the next nothing changes.
  for (let next = 0; next <= free.length; next++) {
    const to = next < free.length ? free[next] + 1 : levels.length;
    const near = free.slice(Math.max(0, next - FLOOR_BINS / 2), next + FLOOR_BINS / 2);
    floor.fill(median(near.map((k) => levels[k])), from, to);
    from = to;
  }
}
