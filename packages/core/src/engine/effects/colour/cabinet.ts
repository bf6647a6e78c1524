import { gainFromDecibels } from '../../../dsp/decibels';
import { integratorGain } from '../../filters/filter';
import { SECTION, section } from '../../filters/stateVariable';
import { stereoSections } from '../../filters/stereoSections';
import { SHAPER_LATENCY, type ShaperProgram, createShaperChannel } from '../../shaping/shaper';
import { curveTableOf } from '../../shaping/shaperCurves';
import { BLOCK_SAMPLES } from '../../sources/source';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';
import { MovingCoefficients } from './movingCoefficients';

type Cabinet = EffectOf<'cabinet'>;

/** A section of a cabinet: what it is, where, how damped (1/Q), and by how many dB a bell lifts. */
type Part = readonly [kind: 'highpass' | 'lowpass' | 'bell', hz: number, damping: number, db?: number];

/**
 * Our own filters, drawn after what such loudspeakers are known to do: a resonance at the bottom, a cone that
 * breaks up, nothing on top.
 */
const cabinets: Record<Cabinet['cabinet'], readonly Part[]> = {
  openBack: [
    ['highpass', 85, 0.9],
    ['bell', 115, 0.8, 3],
    ['bell', 420, 1.2, -4],
    ['bell', 2600, 0.7, 5],
    ['lowpass', 5200, 0.9],
    ['lowpass', 6400, 1.4],
  ],
  closedBack: [
    ['highpass', 62, 0.7],
    ['bell', 105, 0.6, 5],
    ['bell', 700, 1, -3],
    ['bell', 3100, 0.6, 4],
    ['lowpass', 4300, 0.8],
    ['lowpass', 5600, 1.4],
  ],
  smallSpeaker: [
    ['highpass', 240, 0.7],
    ['highpass', 160, 1.4],
    ['bell', 950, 0.9, 4],
    ['bell', 2100, 1, -3],
    ['lowpass', 5500, 0.9],
    ['lowpass', 8000, 1.4],
  ],
  horn: [
    ['highpass', 420, 0.6],
    ['highpass', 420, 1.4],
    ['bell', 1250, 0.5, 8],
    ['bell', 2900, 0.4, 6],
    ['lowpass', 4600, 0.6],
    ['lowpass', 5200, 1.4],
  ],
  telephone: [
    ['highpass', 300, 0.77],
    ['highpass', 300, 1.85],
    ['bell', 1800, 1, 3],
    ['bell', 600, 1, 0],
    ['lowpass', 3400, 0.77],
    ['lowpass', 3400, 1.85],
  ],
};
const PARTS = 6;
const BODY_HZ = 180;
const PRESENCE_HZ = 3200;
const BELL_DAMPING = 1.2;
const SECTIONS = PARTS + 2;

const amplitude = (db: number) => 10 ** (db / 40);

/** A tube stage into a loudspeaker. */
export const cabinet: EffectModel<Cabinet> = {
  tailSeconds: () => 0,
  create(sampleRateHz) {
    const stages = [createShaperChannel(), createShaperChannel()];
    const states = stereoSections.create(SECTIONS);
    const sections = new MovingCoefficients(SECTIONS * SECTION);
    const output = new Ramp();
    const stage: ShaperProgram = {
      on: true,
      table: curveTableOf('tube', []),
      slots: { driveDb: 0, bias: 1, mix: 2, outputDb: 3 },
    };
    const stageValues = Float64Array.of(0, 0, 100, 0);

    function bell(index: number, hz: number, damping: number, db: number): void {
      section.peak(sections.next, index, integratorGain(hz, sampleRateHz), damping, amplitude(db));
    }

    function tune(parts: readonly Part[], bodyDb: number, presenceDb: number): void {
      for (let s = 0; s < PARTS; s++) {
        const [kind, hz, damping, db = 0] = parts[s];
        if (kind === 'bell') bell(s, hz, damping, db);
        else section[kind](sections.next, s, integratorGain(hz, sampleRateHz), damping);
      }
      bell(PARTS, BODY_HZ, BELL_DAMPING, bodyDb);
      bell(PARTS + 1, PRESENCE_HZ, BELL_DAMPING, presenceDb);
    }

    return {
      latency: SHAPER_LATENCY,
      clear() {
        for (const channel of stages) channel.clear();
        states.fill(0);
        sections.clear();
        output.clear();
      },
      run({ spec, slots }, values, left, right) {
        tune(cabinets[spec.cabinet], values[slots.bodyDb], values[slots.presenceDb]);
        sections.setOut();
        const { now, step, moving } = sections;
        stageValues[0] = values[slots.driveDb];
        // What is driven harder comes out louder: half of that is taken back.
        output.to(gainFromDecibels(-values[slots.driveDb] / 2), BLOCK_SAMPLES);
        stages[0].run(stage, stageValues, left, 0, BLOCK_SAMPLES);
        stages[1].run(stage, stageValues, right, 0, BLOCK_SAMPLES);
        stereoSections.take(left, right);
        stereoSections.run(states, SECTIONS, now, step, moving);
        stereoSections.give(left, right);
        sections.arrive();
        output.amplify(left, right);
      },
      hiddenSamples: () => SHAPER_LATENCY,
    };
  },
};
