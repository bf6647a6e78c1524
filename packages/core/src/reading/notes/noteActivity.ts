import { type NoteSpectra, type NoteTemplate, noteTemplates } from '../partials/noteSpectra';

export const LOWEST_MIDI = 24;
export const HIGHEST_MIDI = 100;
const NOTES = HIGHEST_MIDI - LOWEST_MIDI + 1;

/** How much every note sounds in every frame. */
export interface NoteActivity {
  hopSeconds: number;
  count: number;
  /** Of note `LOWEST_MIDI + n` in a frame: sum of its partials' magnitudes, at `frame * noteCount + n`. */
  levels: Float32Array;
  noteCount: number;
}

/** Notes that are tried in a frame: those whose partials hold most. */
const TRIED = 10;
const ITERATIONS = 8;
/**
 * A frame begins with this share of what the one before found, the rest evenly: with it 8 turns find as many
 * notes as 11 without.
 */
const CARRIED = 0.6;
/**
 * Updates go this much further, which takes about half the turns; less than 2 keeps them stable (Badeau,
 * Bertin & Vincent 2010).
 */
const OVERSHOOT = 1.8;
/** What a template holds no more than this share of is left out from then on. */
const NEGLIGIBLE = 1e-3;
/** Nothing changes any more when a turn moves less than this share of the whole. */
const SETTLED = 0.04;

/**
 * How much every note sounds, by a non-negative decomposition of each frame into fixed harmonic templates:
 * multiplicative updates that lessen the Kullback-Leibler divergence (Lee & Seung 2001; templates of notes:
 * Mauch & Dixon 2010, "Approximate note transcription"). In steps of some frames.
 */
export function* activitySteps(
  spectra: NoteSpectra,
  sampleRateHz: number,
  tuningCents: number,
): Generator<number, NoteActivity, void> {
  const { count, bins, levels, hopSeconds } = spectra;
  const templates = noteTemplates(spectra, sampleRateHz, LOWEST_MIDI, HIGHEST_MIDI, tuningCents);
  const activity: NoteActivity = { hopSeconds, count, levels: new Float32Array(count * NOTES), noteCount: NOTES };
  const decompose = createDecomposition(templates, bins);
  for (let frame = 0; frame < count; frame++) {
    if (frame % 20 === 0) yield frame / count;
    decompose(
      levels.subarray(frame * bins, (frame + 1) * bins),
      activity.levels.subarray(frame * NOTES, (frame + 1) * NOTES),
    );
  }
  return activity;
}

/** Decomposes frames; owns its buffers. A shape of a note is told by `note * shapeCount + shape`. */
function createDecomposition(templates: readonly NoteTemplate[], bins: number) {
  const shapeCount = templates[0].shapes.length;
  const shapes = templates.flatMap((template) => template.shapes);
  const model = new Float64Array(bins);
  const ratio = new Float64Array(bins);
  const saliences = new Float64Array(NOTES);
  const gains = new Float64Array(NOTES * shapeCount);
  const gainsBefore = new Float64Array(NOTES * shapeCount);
  let totalBefore = 1;
  // Shapes that are still tried, those of one note side by side.
  const tried = new Int32Array(TRIED * shapeCount);
  let triedCount = 0;
  // What is in the bins of one note, side by side, as its shapes are.
  const own = new Float64Array(Math.max(...templates.map((template) => template.bins.length)));

  /** Takes the bins of a note out of a frame. */
  function gather(from: Float64Array, bins: Int32Array): void {
    for (let i = 0; i < bins.length; i++) own[i] = from[bins[i]];
  }

  /**
   * The mean of what was gathered, weighed by a shape. In four sums that do not wait for one another, which
   * takes half the time.
   */
  function meanUnder(shape: Float64Array): number {
    let a = 0;
    let b = 0;
    let c = 0;
    let d = 0;
    const { length } = shape;
    let i = 0;
    for (; i + 3 < length; i += 4) {
      a += shape[i] * own[i];
      b += shape[i + 1] * own[i + 1];
      c += shape[i + 2] * own[i + 2];
      d += shape[i + 3] * own[i + 3];
    }
    for (; i < length; i++) a += shape[i] * own[i];
    return a + b + c + d;
  }

  /** Tries the notes whose partials hold most, with all their shapes. */
  function choose(frame: Float32Array): void {
    // Roots, so that many partials count for more than one loud one.
    for (let k = 0; k < bins; k++) ratio[k] = Math.sqrt(frame[k]);
    for (let n = 0; n < NOTES; n++) {
      gather(ratio, templates[n].bins);
      saliences[n] = 0;
      for (const shape of templates[n].shapes) saliences[n] = Math.max(saliences[n], meanUnder(shape));
    }
    triedCount = 0;
    while (triedCount < tried.length) {
      let best = 0;
      for (let n = 1; n < NOTES; n++) if (saliences[n] > saliences[best]) best = n;
      if (saliences[best] <= 0) break;
      saliences[best] = 0;
      for (let s = 0; s < shapeCount; s++) tried[triedCount++] = best * shapeCount + s;
    }
  }

  /** The shapes of one note that are tried end here, which begin at `from`. */
  function endOfNote(from: number): number {
    const after = (Math.floor(tried[from] / shapeCount) + 1) * shapeCount;
    const before = after - shapeCount;
    let to = from + 1;
    while (to < triedCount && tried[to] >= before && tried[to] < after) to++;
    return to;
  }

  /** Sets `ratio` to what is there over what the notes would make. */
  function compare(frame: Float32Array): void {
    model.fill(1e-12);
    for (let from = 0, to = 0; from < triedCount; from = to) {
      to = endOfNote(from);
      const at = templates[Math.floor(tried[from] / shapeCount)].bins;
      own.fill(0, 0, at.length);
      for (let t = from; t < to; t++) {
        const shape = shapes[tried[t]];
        const gain = gains[tried[t]];
        for (let i = 0; i < shape.length; i++) own[i] += gain * shape[i];
      }
      for (let i = 0; i < at.length; i++) model[at[i]] += own[i];
    }
    // Of bins without a template what is left over does not matter.
    for (let k = 0; k < bins; k++) ratio[k] = frame[k] / model[k];
  }

  /** Returns how much the gains have moved, in all. */
  function update(): number {
    let moved = 0;
    for (let from = 0, to = 0; from < triedCount; from = to) {
      to = endOfNote(from);
      gather(ratio, templates[Math.floor(tried[from] / shapeCount)].bins);
      for (let t = from; t < to; t++) {
        const i = tried[t];
        // Shapes have sum 1, by which the update would be divided.
        const gain = gains[i] * meanUnder(shapes[i]) ** OVERSHOOT;
        moved += Math.abs(gain - gains[i]);
        gains[i] = gain;
      }
    }
    return moved;
  }

  /** Leaves out what has become too weak to come back. */
  function prune(least: number): void {
    let kept = 0;
    for (let t = 0; t < triedCount; t++) {
      if (gains[tried[t]] > least) tried[kept++] = tried[t];
      else gains[tried[t]] = 0;
    }
    triedCount = kept;
  }

  function begin(total: number): void {
    gainsBefore.set(gains);
    gains.fill(0);
    const even = total / triedCount;
    for (let t = 0; t < triedCount; t++) {
      const i = tried[t];
      gains[i] = even + CARRIED * ((gainsBefore[i] * total) / totalBefore - even);
    }
    totalBefore = total;
  }

  return (frame: Float32Array, out: Float32Array): void => {
    let total = 0;
    for (let k = 0; k < bins; k++) total += frame[k];
    if (total < 1e-5) return;
    choose(frame);
    begin(total);
    for (let turn = 0; turn < ITERATIONS; turn++) {
      compare(frame);
      const moved = update();
      prune(NEGLIGIBLE * total);
      if (moved < SETTLED * total) break;
    }
    for (let t = 0; t < triedCount; t++) out[Math.floor(tried[t] / shapeCount)] += gains[tried[t]];
  };
}
