import { gainFromDecibels } from '../../../dsp/decibels';
import { EQUALIZER_BANDS } from '../../../parameters/effects/equalizer';
import { butterworthQs } from '../../filters/butterworth';
import { integratorGain } from '../../filters/filter';
import { SECTION, section } from '../../filters/stateVariable';
import { stereoSections } from '../../filters/stereoSections';
import { MovingCoefficients } from './movingCoefficients';
import { type EffectModel, type EffectOf, type EffectProgram } from '../chain/effect';
import { ringing } from '../chain/ringing';
import { numbersOfBand } from '../../../parameters/effects/equalizer';

type Equalizer = EffectOf<'equalizer'>;
type Band = Equalizer['bands'][number];

/** Two-pole sections that a band has at most: a cut of 48 dB per octave. */
const MOST_SECTIONS = 4;
const COEFFICIENTS = MOST_SECTIONS * SECTION;

const qsOfSlope = new Map([6, 12, 18, 24, 36, 48].map((slope) => [slope, butterworthQs(slope / 6)]));

/** How many sections a band is made of. */
export function sectionsOf({ kind, slopeDbPerOctave }: Band): number {
  if (kind === 'off') return 0;
  if (kind === 'tilt') return 2;
  return kind === 'lowCut' || kind === 'highCut' ? Math.ceil(slopeDbPerOctave / 12) : 1;
}

/**
 * Writes the sections of a band: Audio EQ Cookbook (R. Bristow-Johnson) by state-variable sections; cuts are
 * Butterworth, whose last Q the band's Q multiplies; a tilt is two shelves that go opposite ways by half the
 * gain each.
 */
export function tuneBand(
  { kind, slopeDbPerOctave }: Band,
  { hz, gainDb, q }: { hz: number; gainDb: number; q: number },
  sampleRateHz: number,
  out: Float64Array,
): void {
  const g = integratorGain(hz, sampleRateHz);
  const a = gainFromDecibels(gainDb / 2);
  switch (kind) {
    case 'bell':
      section.peak(out, 0, g, 1 / q, a);
      return;
    case 'notch':
      section.notch(out, 0, g, 1 / q);
      return;
    case 'lowShelf':
      section.lowShelf(out, 0, g, 1 / q, a);
      return;
    case 'highShelf':
      section.highShelf(out, 0, g, 1 / q, a);
      return;
    case 'tilt':
      section.lowShelf(out, 0, g, 1 / q, gainFromDecibels(-gainDb / 4));
      section.highShelf(out, 1, g, 1 / q, gainFromDecibels(gainDb / 4));
      return;
    case 'lowCut':
    case 'highCut': {
      const qs = qsOfSlope.get(slopeDbPerOctave)!;
      const passes = kind === 'lowCut' ? section.highpass : section.lowpass;
      const onePole = kind === 'lowCut' ? section.onePoleHighpass : section.onePoleLowpass;
      // At its default the band's Q leaves the Butterworth response as it is.
      const lift = q / Math.SQRT1_2;
      for (let i = 0; i < qs.length; i++) passes(out, i, g, 1 / (i === qs.length - 1 ? qs[i] * lift : qs[i]));
      if (qs.length < sectionsOf({ kind, slopeDbPerOctave })) onePole(out, qs.length, g);
    }
  }
}

/** Eight bands one after the other. */
export const equalizer: EffectModel<Equalizer> = {
  tailSeconds(effect) {
    let seconds = 0;
    effect.bands.forEach(({ kind }, i) => {
      if (kind === 'off') return;
      const [hz, db, q] = numbersOfBand(i);
      // Steep cuts ring longer than their Q says; a bell that lifts narrows by its gain.
      const lift = 10 ** (Math.abs(effect[db]) / 40);
      seconds += ringing(effect[hz], 3 * lift * Math.max(1, effect[q]));
    });
    return seconds;
  },
  create(sampleRateHz) {
    const bands = Array.from({ length: EQUALIZER_BANDS }, () => ({
      states: stereoSections.create(MOST_SECTIONS),
      coefficients: new MovingCoefficients(COEFFICIENTS),
      /** What it is tuned as; a band of another kind starts anew. */
      kind: 'off' as Band['kind'],
      slope: 12,
    }));
    const setting = { hz: 0, gainDb: 0, q: 0 };

    function runBand({ spec, slots }: EffectProgram<Equalizer>, values: Float64Array, index: number): void {
      const band = bands[index];
      const wanted = spec.bands[index];
      const sections = sectionsOf(wanted);
      const changed = band.kind !== wanted.kind || band.slope !== wanted.slopeDbPerOctave;
      if (changed) {
        band.states.fill(0);
        band.kind = wanted.kind;
        band.slope = wanted.slopeDbPerOctave;
      }
      if (sections === 0) return;
      const place = bandSlots[index];
      setting.hz = values[slots[place.hz]];
      setting.gainDb = values[slots[place.gainDb]];
      setting.q = values[slots[place.q]];
      const { coefficients } = band;
      if (changed) coefficients.clear();
      tuneBand(wanted, setting, sampleRateHz, coefficients.next);
      coefficients.setOut(sections * SECTION);
      const { now, step, moving } = coefficients;
      stereoSections.run(band.states, sections, now, step, moving);
      coefficients.arrive();
    }

    return {
      latency: 0,
      clear() {
        for (const band of bands) band.kind = 'off';
      },
      run(program, values, left, right) {
        stereoSections.take(left, right);
        for (let index = 0; index < EQUALIZER_BANDS; index++) runBand(program, values, index);
        stereoSections.give(left, right);
      },
      hiddenSamples: () => 0,
    };
  },
};

const bandSlots = Array.from({ length: EQUALIZER_BANDS }, (_, i) => ({
  hz: `band${i + 1}Hz`,
  gainDb: `band${i + 1}Db`,
  q: `band${i + 1}Q`,
}));
