import { hzFromMidi } from '../../dsp/pitch';
import { parameterTable } from '../../parameters/table';
import { DECAY_TAUS, RELEASE_TAUS } from '../../patch/envelopeCurve';
import { type Mode, measureModes } from '../../reading/partials/modes';
import { type Evidence, type Hypothesis, fallingEnvelope, freedoms, route, routeId, short } from './hypothesis';
import { levelHypothesis } from './level';
import { nameOf, sourceOf } from './sources';

/** So many are still set by hand. */
const MOST_MODES = 8;
/** A line so far from every multiple of the pitch is none of its partials. */
const ASIDE_CENTS = 20;
/** What is softer at the onset says nothing of the tone. */
const HEARD_DB = -30;
/** What falls more slowly was not struck. */
const LEAST_FALL_DB = 3;
/** Decibels of one time constant. */
const TAU_DB = 20 / Math.LN10;

/**
 * A body that is struck: sines at intervals of their own that die away one by one. Empty where lines stand at
 * the multiples of the pitch, as those of a string or a waveform do.
 */
export function explainModes({ note, midi }: Evidence): Hypothesis[] {
  const { reading, mono, fitted, fundamental } = note;
  if (reading.notes.length !== 1 || !fundamental) return [];
  const { onsetSeconds, noteOffSeconds } = fitted;
  const end = noteOffSeconds ?? reading.durationSeconds;
  const modes = measureModes(mono, reading.sampleRateHz, onsetSeconds, end)
    .filter(({ hz }) => Math.abs(intervalOf(hz, midi)) <= parameterTable.shape.semitones.max)
    .slice(0, MOST_MODES);
  if (modes.length < 2) return [];
  const [{ amplitude: most }] = modes;
  const levelOf = ({ amplitude }: Mode) => 20 * Math.log10(amplitude / most);
  const isAside = ({ hz, resolutionHz }: Mode) => {
    const multipleHz = fundamental.f0Hz * Math.max(1, Math.round(hz / fundamental.f0Hz));
    return Math.abs(hz - multipleHz) > resolutionHz && Math.abs(1200 * Math.log2(hz / multipleHz)) > ASIDE_CENTS;
  };
  const dies = modes.every(({ fallDb }) => fallDb > LEAST_FALL_DB);
  if (!dies || !modes.some((mode) => isAside(mode) && levelOf(mode) > HEARD_DB)) return [];
  const even = { ...fitted, holdSeconds: 0, decaySeconds: 0, sustainDb: 0 };
  const slowest = Math.min(...modes.map(({ fallDb }) => fallDb));
  const releaseSeconds = even.releaseSeconds ?? secondsOf(slowest, RELEASE_TAUS);
  return [
    ...modes.map((mode, i) => sineOf(mode, levelOf(mode), i, midi)),
    levelHypothesis({ ...even, releaseSeconds }, fundamental),
  ];
}

/** Time of so many time constants. */
const secondsOf = (fallDb: number, taus: number) => Math.min(60, (taus * TAU_DB) / fallDb);

const intervalOf = (hz: number, midi: number) => 12 * Math.log2(hz / hzFromMidi(midi));

function sineOf({ hz, fallDb }: Mode, levelDb: number, i: number, midi: number): Hypothesis {
  const id = `source-${i + 1}`;
  const semitones = intervalOf(hz, midi);
  const part = { shape: 'sine' as const, pulseWidth: null, semitones: Math.round(10 * semitones) / 10, levelDb };
  const name = nameOf(part);
  const target = { moduleId: id, parameter: 'letThrough' };
  const seconds = secondsOf(fallDb, DECAY_TAUS);
  return {
    name,
    stage: 'sources',
    confidence: 0.7,
    why: `a sine at ${short(hz)} Hz dies away within ${short(seconds)} s`,
    apply: (layer) => {
      const source = sourceOf({ ...part, semitones }, id, name, 0, {});
      layer.sources.push({ ...source, letThrough: 0 });
      const envelope = fallingEnvelope(`own-${id}`, `Fall of the ${name}`, seconds);
      route(layer, { ...envelope, releaseSeconds: secondsOf(fallDb, RELEASE_TAUS) }, target, 100);
    },
    freedoms: [
      ...freedoms(id, 'sources', { levelDb: 0.03 }),
      ...freedoms(`own-${id}`, 'sources', { decaySeconds: 0.04 }),
    ],
    brings: i === 0 ? [] : [id, routeId(`own-${id}`, target)],
  };
}
