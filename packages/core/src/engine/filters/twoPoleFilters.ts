import { gainFromDecibels } from '../../dsp/decibels';
import { ratioFromSemitones } from '../../dsp/pitch';
import type { Filter } from '../../patch/schema';
import { butterworthQs } from './butterworth';
import { type FilterModel, type FilterPitch, type FilterProgram, defineFilter, integratorGain } from './filter';
import { type SectionStates, createSections, runSection, runTwoSections, section } from './stateVariable';

const MAX_SECTIONS = 3;

/** Of each slope. */
const BUTTERWORTH_Q = { 6: butterworthQs(1), 12: butterworthQs(2), 18: butterworthQs(3), 24: butterworthQs(4) };

type Slope = keyof typeof BUTTERWORTH_Q;
type Tune = FilterModel['tune'];

/**
 * Sections of a low- or high-pass. The resonance multiplies the Q of the last one, so the gain at the cutoff
 * is `resonanceDb − 3 dB` at every slope that has one.
 */
function tuneEdge(
  kind: 'lowpass' | 'highpass',
  { spec, slots }: FilterProgram,
  values: Float64Array,
  { cutoffHz, sampleRateHz }: FilterPitch,
  out: Float64Array,
): void {
  const slope = slopeOf(spec);
  const qs = BUTTERWORTH_Q[slope];
  const g = integratorGain(cutoffHz, sampleRateHz);
  const resonance = gainFromDecibels(values[slots.resonanceDb]);
  // Each is called by its name, so that it is compiled in place.
  for (let i = 0; i < qs.length; i++) {
    const k = 1 / (i === qs.length - 1 ? qs[i] * resonance : qs[i]);
    if (kind === 'lowpass') section.lowpass(out, i, g, k);
    else section.highpass(out, i, g, k);
  }
  if (slope !== 6 && slope !== 18) return;
  if (kind === 'lowpass') section.onePoleLowpass(out, qs.length, g);
  else section.onePoleHighpass(out, qs.length, g);
}

const slopeOf = (spec: Filter) => ('slopeDbPerOctave' in spec ? spec.slopeDbPerOctave : 12);

const edgeSections = (slope: Slope) => Math.ceil(slope / 12);

/** A filter made of sections one after the other: how many, and what they are set to. */
function chainModel(count: (spec: Filter) => number, tune: Tune): FilterModel {
  return defineFilter<SectionStates>({
    createState: () => createSections(MAX_SECTIONS),
    clear: (state) => void state.fill(0),
    tune,
    run(state, { spec }, signal, from, to, at, step, moving) {
      const sections = count(spec);
      if (sections === 2 && !moving) {
        runTwoSections(state, signal, from, to, at);
        return;
      }
      for (let index = 0; index < sections; index++) runSection(state, index, signal, from, to, at, step, moving);
    },
  });
}

const edgeModel = (kind: 'lowpass' | 'highpass') =>
  chainModel(
    (spec) => edgeSections(slopeOf(spec)),
    (program, values, pitch, out) => tuneEdge(kind, program, values, pitch, out),
  );

/**
 * A low- or high-pass with a notch of its own, a number of semitones from the cutoff, that can be moved
 * against it.
 */
const edgeWithNotch = (kind: 'lowpass' | 'highpass') =>
  chainModel(
    (spec) => edgeSections(slopeOf(spec)) + 1,
    (program, values, pitch, out) => {
      tuneEdge(kind, program, values, pitch, out);
      const { spec, slots } = program;
      const { cutoffHz, sampleRateHz } = pitch;
      const notchHz = cutoffHz * ratioFromSemitones(values[slots.notchSemitones]);
      section.notch(out, edgeSections(slopeOf(spec)), integratorGain(notchHz, sampleRateHz), 1 / values[slots.notchQ]);
    },
  );

const gainModel = (kind: 'peak' | 'lowShelf' | 'highShelf') =>
  chainModel(
    () => 1,
    ({ slots }, values, { cutoffHz, sampleRateHz }, out) =>
      section[kind](
        out,
        0,
        integratorGain(cutoffHz, sampleRateHz),
        1 / values[slots.q],
        gainFromDecibels(values[slots.gainDb] / 2),
      ),
  );

/** The filters that are chains of two-pole sections. */
export const sectionFilters = {
  lowpass: edgeModel('lowpass'),
  highpass: edgeModel('highpass'),
  bandpass: chainModel(
    (spec) => (slopeOf(spec) === 24 ? 2 : 1),
    ({ spec, slots }, values, { cutoffHz, sampleRateHz }, out) => {
      const k = 1 / (Math.SQRT1_2 * gainFromDecibels(values[slots.resonanceDb]));
      for (let i = 0; i < (slopeOf(spec) === 24 ? 2 : 1); i++) {
        section.bandpass(out, i, integratorGain(cutoffHz, sampleRateHz), k);
      }
    },
  ),
  notch: chainModel(
    () => 1,
    ({ slots }, values, { cutoffHz, sampleRateHz }, out) =>
      section.notch(out, 0, integratorGain(cutoffHz, sampleRateHz), 1 / values[slots.q]),
  ),
  peak: gainModel('peak'),
  lowShelf: gainModel('lowShelf'),
  highShelf: gainModel('highShelf'),
  lowpassNotch: edgeWithNotch('lowpass'),
  highpassNotch: edgeWithNotch('highpass'),
};
