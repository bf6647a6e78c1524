import { type NoteSpectra, type NoteTemplate, SHAPE_COUNT, noteTemplates } from './noteSpectra';

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
const ITERATIONS = 20;
/** What a template holds no more than this share of is left out from then on. */
const NEGLIGIBLE = 1e-3;
const PRUNED_EVERY = 3;

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

/** Decomposes frames; owns its buffers. */
function createDecomposition(templates: readonly NoteTemplate[], bins: number) {
  const model = new Float64Array(bins);
  const saliences = new Float64Array(NOTES);
  const gains = new Float64Array(templates.length);
  const chosen: number[] = [];
  const ratio = new Float64Array(bins);

  /** Leaves out what has become too weak to come back. */
  function prune(total: number): void {
    let kept = 0;
    for (const t of chosen) if (gains[t] > NEGLIGIBLE * total) chosen[kept++] = t;
    chosen.length = kept;
  }

  function choose(frame: Float32Array): void {
    // Roots, so that many partials count for more than one loud one.
    for (let k = 0; k < bins; k++) ratio[k] = Math.sqrt(frame[k]);
    for (let n = 0; n < NOTES; n++) {
      saliences[n] = 0;
      for (let s = 0; s < SHAPE_COUNT; s++) {
        saliences[n] = Math.max(saliences[n], meanUnder(ratio, templates[n * SHAPE_COUNT + s]));
      }
    }
    chosen.length = 0;
    for (let turn = 0; turn < TRIED; turn++) {
      let best = 0;
      for (let n = 1; n < NOTES; n++) if (saliences[n] > saliences[best]) best = n;
      if (saliences[best] <= 0) return;
      saliences[best] = 0;
      for (let s = 0; s < SHAPE_COUNT; s++) chosen.push(best * SHAPE_COUNT + s);
    }
  }

  return (frame: Float32Array, out: Float32Array): void => {
    let total = 0;
    for (let k = 0; k < bins; k++) total += frame[k];
    if (total < 1e-5) return;
    choose(frame);
    for (const t of chosen) gains[t] = total / chosen.length;
    for (let turn = 0; turn < ITERATIONS; turn++) {
      model.fill(1e-12);
      for (const t of chosen) addTemplate(model, templates[t], gains[t]);
      // Of bins without a template what is left over does not matter.
      for (let k = 0; k < bins; k++) ratio[k] = frame[k] / model[k];
      // Templates have sum 1, by which the update would be divided.
      for (const t of chosen) gains[t] *= meanUnder(ratio, templates[t]);
      if (turn % PRUNED_EVERY === PRUNED_EVERY - 1) prune(total);
    }
    for (const t of chosen) out[templates[t].midi - LOWEST_MIDI] += gains[t];
  };
}

function addTemplate(model: Float64Array, { bins, values }: NoteTemplate, gain: number): void {
  for (let i = 0; i < bins.length; i++) model[bins[i]] += gain * values[i];
}

function meanUnder(ratio: Float64Array, { bins, values }: NoteTemplate): number {
  let sum = 0;
  for (let i = 0; i < bins.length; i++) sum += values[i] * ratio[bins[i]];
  return sum;
}
