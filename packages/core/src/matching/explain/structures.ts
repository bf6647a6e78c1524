import { explain } from '.';
import { sourceSchema } from '../../patch/schemas/sourceSchema';
import { type Evidence, type Hypothesis, fallingEnvelope, freedoms, route, routeId } from './hypothesis';
import { bend, pushGently } from './dirt';
import { FILTER_FALL } from './filter';
import { AMP_CONTOUR, explainOneFall, levelHypothesis } from './level';
import { explainDrawnPartials } from './drawnPartials';
import { FM_PAIR } from './fm';
import { explainHarmonicFm } from './harmonicFm';
import { explainModes } from './modes';
import { explainOwnContours } from './ownContours';
import { FORMANTS, TOP_OF_RESONANCES } from './formants';
import { offsetCents } from './sources';
import { soundingSpan } from '../../reading/level/fittedContour';
import { frameAmplitudes } from '../../reading/partials/partialFrames';
import { SURE_VOICES } from '../../reading/movement/unison';

/** One way to explain a tone as a whole. */
export interface Structure {
  name: string;
  hypotheses: Hypothesis[];
}

/** Less sure evidence is not built in. */
const SURE = 0.25;
/** A level that falls by so much drives less and less into a curve. */
const FALLS_DB = 3;

/**
 * Ways to explain the tone that exclude one another: partials are those of sources behind a filter, or a
 * curve or resonances made them of something plainer.
 */
export function structuresOf(evidence: Evidence): Structure[] {
  const explained = explain(evidence).filter(({ confidence, brings }) => confidence >= SURE || brings.length === 0);
  const is =
    (...names: readonly string[]) =>
    (hypothesis: Hypothesis) =>
      names.includes(hypothesis.name);
  const isSource = ({ stage, name }: Hypothesis) =>
    stage === 'sources' && name !== 'ring tone' && name !== 'fast level';
  const resonances = explained.filter(is(FORMANTS, TOP_OF_RESONANCES));
  const around = explained.filter((hypothesis) => !isSource(hypothesis) && !resonances.includes(hypothesis));
  const sources = explained.filter(isSource);
  const unfiltered = around.filter(({ stage }) => stage !== 'filter');
  // Sidebands that die away look as if a filter closed over them.
  const structures: Structure[] = sources.some(is(FM_PAIR))
    ? [{ name: 'sines that move one another', hypotheses: [...sources, ...unfiltered] }]
    : [];
  structures.push({ name: 'sources and filter', hypotheses: [...sources, ...around] });
  const own = sources.some(is(FM_PAIR)) ? [] : explainOwnContours(evidence);
  if (own.length > 0) {
    // What dies away by itself is brighter or duller than the rest: a filter that moves would say it twice.
    const falls = around.some(is(FILTER_FALL, 'filter contour'));
    const rest = falls ? unfiltered : around;
    structures.push({
      name: 'sources with contours of their own',
      hypotheses: [...own, ...rest.filter((hypothesis) => !is(AMP_CONTOUR)(hypothesis))],
    });
  }
  const told = around.filter(is('drive', 'fold'));
  const unbent = unfiltered.filter((hypothesis) => !told.includes(hypothesis));
  for (const curve of told.length > 0 ? [told] : possibleCurves(around, evidence))
    structures.push({
      name: 'a sine into a curve',
      hypotheses: [sine(evidence), ...pushed(curve, unbent, evidence)],
    });
  const lowpass = around.find(is('low-pass'));
  const isOpen = (evidence.note.reading.traits.brightness.cutoffHz ?? Infinity) > OPEN_HZ;
  if (lowpass && !isOpen && !sources.some(is(FM_PAIR))) {
    // A curve flattens what a resonance lifts, so neither is seen in the partials.
    const others = around
      .filter((hypothesis) => hypothesis !== lowpass && !told.includes(hypothesis))
      .map((hypothesis) => (is(FILTER_FALL)(hypothesis) ? fallingAtOnce(hypothesis) : hypothesis));
    structures.push({
      name: 'a resonance into a curve',
      hypotheses: [...sources, ...others, ringing(lowpass), flattening],
    });
  }
  if (resonances.length > 0) {
    const open = around.filter(
      (hypothesis) => !is('low-pass', 'filter fall', 'filter contour', 'moving notch')(hypothesis),
    );
    structures.push({ name: 'a saw through resonances', hypotheses: [saw(evidence), ...open, ...resonances] });
  }
  if (isMostlyOneSine(evidence)) {
    // A pitch that falls smears one line over several partials and what weakens them.
    structures.push({ name: 'one sine', hypotheses: [sine(evidence), ...unfiltered] });
  }
  const isPlain = arePlain(evidence) && lowpass !== undefined;
  const pairs = sources.some(is(FM_PAIR)) ? [] : explainHarmonicFm(evidence);
  const pair = pairs.filter(({ confidence }) => !isPlain || confidence > SURE_PAIR);
  if (pair.length > 0)
    structures.push({
      name: 'sines at a whole ratio',
      hypotheses: [...pair, ...unfiltered.filter((one) => !is('drive', 'fold')(one))],
    });
  if (sources.length > 1) {
    // What a resonance lifts looks like a source of its own.
    const main = sources.find(is('saw', 'square', 'pulse', 'triangle'));
    const alone = main ? { ...main, brings: [] } : saw(evidence);
    structures.push({ name: 'one source', hypotheses: [alone, ...around] });
  }
  const drawn = sources.some(is(FM_PAIR)) ? [] : explainDrawnPartials(evidence);
  if (drawn.length > 0) structures.push({ name: 'partials one by one', hypotheses: [...drawn, ...unbent] });
  const modes = sources.some(is(FM_PAIR)) ? [] : explainModes(evidence);
  if (modes.length > 0) {
    // Their level stays, and steady noise would stay with it.
    const others = unbent.filter((hypothesis) => !is(AMP_CONTOUR, 'noise')(hypothesis));
    structures.push({ name: 'sines that die away one by one', hypotheses: [...modes, ...others] });
  }
  const fall = explainOneFall(evidence);
  if (fall.length > 0) {
    const rest = structures[0].hypotheses.filter((hypothesis) => !is(AMP_CONTOUR)(hypothesis));
    structures.push({ name: 'one fall', hypotheses: [...rest, ...fall] });
  }
  return structures;
}

/** A pair of sines that every frame is this like is thought of where waveforms would do, too. */
const SURE_PAIR = 0.94;
/** Over this a resonance lifts nothing that would be bent. */
const OPEN_HZ = 8000;
/** In the middle of what filters are set to. */
const RINGING_DB = 15;
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

/** Under the first partial by so much, the others may be of its movement or of what is done to it. */
const FAINT_DB = -9;

/** In the second half of the sound a sine has nothing beside it. */
const ALONE_DB = -30;

function isMostlyOneSine({ note }: Evidence): boolean {
  const { partials, sources } = note.reading.traits;
  const [first, ...others] = partials.levelsDb;
  const isSine = sources.parts.length === 0 || sources.parts[0].shape === 'sine' || endsAlone(note);
  return isSine && first > -1 && others.every((level) => level < FAINT_DB);
}

/** Whether the first partial is alone once the start is over, whatever a fall of the pitch made of that. */
function endsAlone({ partials, fitted, reading }: Evidence['note']): boolean {
  if (!partials) return false;
  const [from, to] = soundingSpan(fitted, reading.durationSeconds);
  const later = [...partials.seconds.keys()].filter(
    (t) => partials.seconds[t] > (from + to) / 2 && partials.seconds[t] < to,
  );
  const isAlone = (t: number) => {
    const [first, ...others] = frameAmplitudes(partials, t);
    return others.every((a) => a < first * 10 ** (ALONE_DB / 20));
  };
  return later.length > 0 && later.filter(isAlone).length > later.length / 2;
}

/** Curves that were not seen, but may be there: the softer the tone is, the plainer, as under a filter. */
function possibleCurves(around: readonly Hypothesis[], { note }: Evidence): Hypothesis[][] {
  const { sustainDb } = note.reading.traits.loudness;
  const falls = sustainDb !== null && sustainDb < -FALLS_DB && around.some(({ name }) => name === FILTER_FALL);
  if (!falls) return [];
  const why = 'partials go with the level, as those that a curve makes';
  return [[bend('soft', 0.5, why)], [bend('fold', 0.5, why)]];
}

/** Plain waveforms behind a filter come so near to the partials that nothing else is looked for. */
const PLAIN_ERROR_DB = 1.2;

function arePlain({ note }: Evidence): boolean {
  const { errorDb } = note.reading.traits.sources;
  return errorDb !== null && errorDb < PLAIN_ERROR_DB;
}

const single = (shape: 'sine' | 'saw', { note, midi }: Evidence): Hypothesis => ({
  name: shape,
  stage: 'sources',
  confidence: 0.5,
  why: `one ${shape} says as much`,
  apply: (layer) => {
    const { unison, pitch } = note.reading.traits;
    const spread =
      shape === 'saw' && unison.detuneCents !== null && unison.confidence >= SURE_VOICES
        ? {
            unisonVoices: Math.max(2, unison.voices ?? 2),
            unisonDetuneCents: unison.detuneCents,
            startPhaseRandom: 100,
          }
        : {};
    const cents = Math.round(10 * offsetCents(pitch, midi)) / 10;
    layer.sources.push(sourceSchema.parse({ kind: 'shape', id: 'source-1', name: shape, shape, cents, ...spread }));
  },
  freedoms: [],
  brings: [],
});

const sine = (evidence: Evidence) => single('sine', evidence);
const saw = (evidence: Evidence) => single('saw', evidence);

/** What is behind a curve, and the fall before it where there is one: behind it the level then stays. */
function pushed(curve: readonly Hypothesis[], around: readonly Hypothesis[], evidence: Evidence): Hypothesis[] {
  const before = push(evidence);
  if (before.length === 0) return [...curve, ...around];
  const { fitted, fundamental } = evidence.note;
  const even = levelHypothesis({ ...fitted, holdSeconds: 0, decaySeconds: 0, sustainDb: 0 }, fundamental);
  return [...before, ...curve, ...around.map((hypothesis) => (hypothesis.name === AMP_CONTOUR ? even : hypothesis))];
}

/** The level falls before the curve, which then bends less: told by partials that grow with the level. */
function push({ note }: Evidence): Hypothesis[] {
  const { sustainDb, decaySeconds } = note.reading.traits.loudness;
  if (sustainDb === null || decaySeconds === null || sustainDb > -FALLS_DB) return [];
  const target = { moduleId: 'source-1', parameter: 'levelDb' };
  const id = routeId('push', target);
  const fallDb = Math.min(40, -sustainDb);
  return [
    {
      name: 'push',
      stage: 'dirt',
      confidence: 0.5,
      why: 'the tone grows plainer as it gets softer: its level falls before the curve',
      apply: (layer) => {
        const [source] = layer.sources;
        source.levelDb = -fallDb;
        const envelope = { ...fallingEnvelope('push', 'Push', decaySeconds), decayCurve: 0 };
        route(layer, envelope, target, fallDb);
      },
      freedoms: [...freedoms(id, 'dirt', { amount: 0.06 }), ...freedoms('push', 'dirt', { decaySeconds: 0.05 })],
      brings: [id],
    },
  ];
}
