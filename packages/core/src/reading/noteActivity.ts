import { type NoteSpectra, type NoteTemplate, noteTemplates } from './noteSpectra';

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
const ITERATIONS = 11;
/** Updates go this much further, which takes about half the turns; less than 2 keeps them stable (Badeau, Bertin & Vincent 2010). */
const OVERSHOOT = 1.8;
/** What a template holds no more than this share of is left out from then on. */
const NEGLIGIBLE = 1e-3;
/** Nothing changes any more when a turn moves less than this share of the whole. */
const SETTLED = 0.04;

/**
 * How much every note sounds, by a non-negative decomposition of each frame into fixed harmonic templates: multiplicative updates that lessen
 * the Kullback-Leibler divergence (Lee & Seung 2001; templates of notes: Mauch & Dixon 2010, "Approximate note transcription"). In steps of
 * some frames.
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

/** A note that is tried, and its shapes that have not been left out. */
interface Tried {
  note: number;
  shapes: number[];
}

/** Decomposes frames; owns its buffers. */
function createDecomposition(templates: readonly NoteTemplate[], bins: number) {
  const shapeCount = templates[0].shapes.length;
  const model = new Float64Array(bins);
  const ratio = new Float64Array(bins);
  const saliences = new Float64Array(NOTES);
  const gains = new Float64Array(NOTES * shapeCount);
  // What is in the bins of one note, side by side, as its shapes are.
  const own = new Float64Array(Math.max(...templates.map((template) => template.bins.length)));

  /** Takes the bins of a note out of a frame. */
  function gather(from: Float64Array, { bins }: NoteTemplate): void {
    for (let i = 0; i < bins.length; i++) own[i] = from[bins[i]];
  }

  /** The mean of what was gathered, weighed by a shape. */
  function meanUnder(shape: Float64Array): number {
    let sum = 0;
    for (let i = 0; i < shape.length; i++) sum += shape[i] * own[i];
    return sum;
  }

  /** Notes whose partials hold most, with all their shapes. */
  function choose(frame: Float32Array): Tried[] {
    // Roots, so that many partials count for more than one loud one.
    for (let k = 0; k < bins; k++) ratio[k] = Math.sqrt(frame[k]);
    for (let n = 0; n < NOTES; n++) {
      gather(ratio, templates[n]);
      saliences[n] = 0;
      for (const shape of templates[n].shapes) saliences[n] = Math.max(saliences[n], meanUnder(shape));
    }
    const tried: Tried[] = [];
    while (tried.length < TRIED) {
      let best = 0;
      for (let n = 1; n < NOTES; n++) if (saliences[n] > saliences[best]) best = n;
      if (saliences[best] <= 0) break;
      saliences[best] = 0;
      tried.push({ note: best, shapes: templates[best].shapes.map((_, s) => s) });
    }
    return tried;
  }

  /** Sets `ratio` to what is there over what the notes would make. */
  function compare(frame: Float32Array, tried: readonly Tried[]): void {
    model.fill(1e-12);
    for (const { note, shapes } of tried) {
      const template = templates[note];
      own.fill(0, 0, template.bins.length);
      for (const s of shapes) {
        const shape = template.shapes[s];
        const gain = gains[note * shapeCount + s];
        for (let i = 0; i < shape.length; i++) own[i] += gain * shape[i];
      }
      for (let i = 0; i < template.bins.length; i++) model[template.bins[i]] += own[i];
    }
    // Of bins without a template what is left over does not matter.
    for (let k = 0; k < bins; k++) ratio[k] = frame[k] / model[k];
  }

  /** Returns how much the gains have moved, in all. */
  function update(tried: readonly Tried[]): number {
    let moved = 0;
    for (const { note, shapes } of tried) {
      gather(ratio, templates[note]);
      for (const s of shapes) {
        const i = note * shapeCount + s;
        // Shapes have sum 1, by which the update would be divided.
        const gain = gains[i] * meanUnder(templates[note].shapes[s]) ** OVERSHOOT;
        moved += Math.abs(gain - gains[i]);
        gains[i] = gain;
      }
    }
    return moved;
  }

  /** Leaves out what has become too weak to come back. */
  function prune(tried: readonly Tried[], least: number): Tried[] {
    return tried
      .map(({ note, shapes }) => ({ note, shapes: shapes.filter((s) => gains[note * shapeCount + s] > least) }))
      .filter(({ shapes }) => shapes.length > 0);
  }

  return (frame: Float32Array, out: Float32Array): void => {
    let total = 0;
    for (let k = 0; k < bins; k++) total += frame[k];
    if (total < 1e-5) return;
    let tried = choose(frame);
    gains.fill(total / (tried.length * shapeCount));
    for (let turn = 0; turn < ITERATIONS; turn++) {
      compare(frame, tried);
      const moved = update(tried);
      tried = prune(tried, NEGLIGIBLE * total);
      if (moved < SETTLED * total) break;
    }
    for (const { note, shapes } of tried) for (const s of shapes) out[note] += gains[note * shapeCount + s];
  };
}
