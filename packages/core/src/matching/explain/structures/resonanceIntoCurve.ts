import { bend, pushGently } from '../dirt';
import { FILTER_FALL } from '../filter';
import { type Hypothesis, freedoms } from '../hypothesis';
import { type StructureKind, is } from './structure';

/** Over this a resonance lifts nothing that would be bent. */
const OPEN_HZ = 8000;
/** In the middle of what filters are set to. */
const RINGING_DB = 15;

/** A curve behind a filter flattens what its resonance lifts, so neither is seen in the partials. */
export const resonanceIntoCurve: StructureKind = ({ evidence, isFm, sources, around, curves, lowpass }) => {
  const { cutoffHz } = evidence.note.reading.traits.brightness;
  if (!lowpass || isFm || (cutoffHz ?? Infinity) > OPEN_HZ) return [];
  const others = around
    .filter((hypothesis) => hypothesis !== lowpass && !curves.includes(hypothesis))
    .map((hypothesis) => (is(FILTER_FALL)(hypothesis) ? fallingAtOnce(hypothesis) : hypothesis));
  return [{ name: 'a resonance into a curve', hypotheses: [...sources, ...others, ringing(lowpass), flattening] }];
};

/** The same low-pass with a resonance that was not seen. */
const ringing = (lowpass: Hypothesis): Hypothesis => ({
  ...lowpass,
  apply: (layer, patch) => {
    lowpass.apply(layer, patch);
    const [filter] = layer.filters;
    if ('resonanceDb' in filter) filter.resonanceDb = Math.max(filter.resonanceDb, RINGING_DB);
  },
  freedoms: freedoms('filter-1', 'filter', { cutoffHz: 0.06, resonanceDb: 0.1 }),
});

/** The same fall; what a curve holds up at the start was taken for a hold. */
const fallingAtOnce = (fall: Hypothesis): Hypothesis => ({
  ...fall,
  isAssumed: true,
  apply: (layer, patch) => {
    fall.apply(layer, patch);
    for (const modulator of layer.modulators)
      if (modulator.id === 'filter-contour' && modulator.kind === 'envelope') modulator.holdSeconds = 0;
  },
});

/** A curve that only peaks come to. */
const flattening: Hypothesis = {
  ...bend('soft', 0.5, 'what a resonance lifts is bent flat by a curve behind it'),
  isAssumed: true,
  apply: (layer) => pushGently(layer, 'soft'),
};
