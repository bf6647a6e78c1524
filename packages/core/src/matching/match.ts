import type { PhraseNote } from '../engine/render';
import { hashedRandom } from '../engine/random';
import { emptyLayer, emptyPatch } from '../patch/defaults';
import { InputError } from '../patch/inputError';
import type { Patch } from '../patch/schema';
import { atTrackTempo } from '../patch/tempo';
import type { Audio } from '../reading/audio';
import type { Overrules } from '../reading/hand/overrules';
import { heardLoudness } from '../reading/level/heardLoudness';
import { type ReadingContext, readTone } from '../reading/read';
import type { Reading } from '../reading/schema';
import { type CutEvidence, gatherEvidence } from './evidence';
import { additionsTo } from './explain/additions';
import { structuresOf } from './explain/structures';
import { type Freedom, type Hypothesis, type Stage, stages } from './explain/hypothesis';
import { copyPatch } from './copyPatch';
import { matchLoudness } from './loudness';
import { phraseOf } from './phrase';
import { type Judge, type Judged, fullJudge, jointJudge, quickJudge } from './search/judge';
import { copied } from './search/parameterSpace';
import { freedomsOfPatch } from './search/freedomsOfPatch';
import { MODULE_PRICE_JND, type Pruned, SETTING_PRICE_JND, prune } from './search/prune';
import { type Refined, refine } from './search/refine';
import { roundPatch } from './search/round';
import { settingsOf } from './search/settings';

export const structures = ['plain', 'copy', 'mixed', 'any'] as const;
export type Structure = (typeof structures)[number];

export interface Candidate {
  name: string;
  kind: Exclude<Structure, 'any'>;
  patch: Patch;
  /** Over the whole cut, at its own rate. */
  overallJnd: number;
  settings: number;
  /** A sentence a module: the evidence, and what it is worth. */
  why: string[];
}

export interface StageReport {
  stage: string;
  seconds: number;
  renders: number;
  overallJnd: number;
}

export interface MatchState {
  stage: string;
  /** 0..1 of the renders that there may be. */
  fraction: number;
  /** The best so far; null before there is one. */
  best: Patch | null;
  overallJnd: number;
}

export interface MatchOptions {
  name?: string;
  structure?: Structure;
  /** Renders that the search may take. */
  renders?: number;
  /** Seconds after which no more is searched. */
  budgetSeconds?: number;
  seed?: number;
  /** Copies are made only where the plain patch is further away than this, JND; always when left out. */
  copyBeyondJnd?: number;
  /** Modules, `module.parameter` or stages that stay as they are. */
  locks?: readonly string[];
  /** Where given, only numbers of these stages are turned. */
  only?: readonly Stage[];
  /** More cuts of the same tone, at other keys or velocities, which the patch has to fit as well. */
  others?: readonly Audio[];
  /** Where to start in place of what the evidence says. */
  fromPatch?: Patch;
  context?: ReadingContext;
  overrules?: Overrules;
  /** Told after every render now and then; ends the search when it returns true. The best so far is kept. */
  onProgress?: (state: MatchState) => boolean;
}

export interface Matched {
  notes: PhraseNote[];
  reading: Reading;
  /** The recommended one first. */
  candidates: Candidate[];
  stages: StageReport[];
  renders: number;
  /** Why the first is recommended, where that is not plain. */
  recommendation: string;
  isCancelled: boolean;
}

const DEFAULT_RENDERS = 800;
/** Worse than the copy by more than this, the plain patch is not recommended. */
const PLAIN_MARGIN_JND = 1;
/** A series of its own, which nothing that sounds draws from. */
const RANDOM_SERIES = 0x6d61;
/** What structures that exclude one another are tried by, and with what share of the renders. */
const TRIAL_STAGES: readonly Stage[] = ['sources', 'filter', 'dirt'];
const TRIAL_SHARE = 0.15;
/** Nearer than this nothing more is added. */
const NEAR_JND = 1;
const MOST_ADDITIONS = 3;
/** All that is free at once, before anything is added or taken away. */
const TOGETHER_SHARE = 0.2;
/** Of the renders, for each that is tried. */
const ADDITION_SHARE = 0.02;
const LEAST_ADDITION_RENDERS = 16;
/** With fewer in all, they are better spent on what the evidence says. */
const ADDING_RENDERS = 300;

/**
 * What each stage gets of the renders, where it has something to turn; the rest goes to all of them together.
 */
const SHARES: Readonly<Record<Stage, number>> = {
  sources: 0.08,
  level: 0.06,
  filter: 0.12,
  pitch: 0.06,
  movement: 0.06,
  dirt: 0.05,
  noise: 0.05,
  space: 0.06,
};

/**
 * Rebuilds the tone of a cut: explains it by ordinary modules, turns their numbers stage by stage in the
 * order of work, takes away what is not worth its price, rounds what is left; beside it stands the copy.
 *
 * Throws an InputError when the cut has no pitch to build on.
 */
export function matchTone(audio: Audio, options: MatchOptions = {}): Matched {
  const { name = 'Match', structure = 'any', seed = 1, context, overrules } = options;
  const evidence = gatherEvidence(audio, undefined, context, overrules);
  const { notes, reading } = evidence;
  const judged = { audio, reading, notes, seed };
  const others = (options.others ?? []).map((other) => judgedCut(other, options));
  const cuts = [judged, ...others];
  const judge = jointJudge(cuts.map((cut) => quickJudge(cut)));
  const fine = jointJudge(cuts.map((cut) => quickJudge(cut, true)));
  const whole = fullJudge(judged);
  const run = createRun(options, judge, fine);
  const candidates: Candidate[] = [];
  const finish = (patch: Patch, kind: Candidate['kind'], why: string[]) => {
    const finished = copied(patch);
    matchLoudness(finished, notes, audio, heardLoudness(reading));
    const overallJnd = round(whole.distance(finished));
    candidates.push({ name: `${kind} patch`, kind, patch: finished, overallJnd, settings: settingsOf(finished), why });
  };

  if (structure !== 'copy') {
    const plain = options.fromPatch ? refinePatch(options.fromPatch, run) : matchPlain(evidence, name, run);
    finish(plain.patch, 'plain', plain.why);
  }
  const isNear = candidates.length > 0 && candidates[0].overallJnd < (options.copyBeyondJnd ?? 0);
  if (structure !== 'plain' && !options.fromPatch && !isNear) {
    const copy = copyPatch(evidence, audio, name);
    const why = ['wavetable: taken from the cut along the note, with what its level and pitch do as drawn lines'];
    if (structure !== 'mixed') finish(copy, 'copy', why);
    const [plain] = candidates;
    if (structure === 'mixed' || structure === 'any') {
      const mixed = mixedPatch(plain?.patch, copy);
      if (mixed)
        finish(mixed, 'mixed', ['wavetable: the spectrum of the cut in place of its sources', ...(plain?.why ?? [])]);
    }
  }
  const { sorted, recommendation } = recommend(candidates);
  return {
    notes,
    reading,
    candidates: sorted,
    stages: run.reports,
    renders: judge.renders() + fine.renders() + whole.renders(),
    recommendation,
    isCancelled: run.isCancelled(),
  };
}

const round = (x: number) => Math.round(1000 * x) / 1000;

function recommend(candidates: readonly Candidate[]) {
  const near = [...candidates].sort((a, b) => a.overallJnd - b.overallJnd);
  const plain = candidates.find(({ kind }) => kind === 'plain');
  const copy = candidates.find(({ kind }) => kind === 'copy');
  if (!plain) return { sorted: near, recommendation: '' };
  const best = !copy || plain.overallJnd <= copy.overallJnd + PLAIN_MARGIN_JND ? plain : near[0];
  const recommendation =
    best === plain
      ? ''
      : `The plain patch is ${(plain.overallJnd - best.overallJnd).toFixed(1)} JND further away than the ${best.kind} one, so that one is recommended.`;
  return { sorted: [best, ...near.filter((candidate) => candidate !== best)], recommendation };
}

/** Another cut of the tone, with its own notes. */
function judgedCut(audio: Audio, { seed = 1, context }: MatchOptions): Judged {
  const reading = readTone(audio, undefined, context);
  if (reading.notes.length === 0) throw new InputError('In one of the cuts no note was found.');
  return { audio, reading, notes: phraseOf(reading), seed };
}

/** Renders, time and progress of one match, shared by everything that searches. */
function createRun(options: MatchOptions, judge: Judge, fine: Judge) {
  const { renders = DEFAULT_RENDERS, budgetSeconds = Infinity, seed = 1, locks = [], only, onProgress } = options;
  let drawn = 0;
  const random = () => hashedRandom(seed, drawn++, RANDOM_SERIES);
  const started = Date.now();
  const seconds = () => (Date.now() - started) / 1000;
  let cancelled = false;
  let stage = '';
  let best: Refined | undefined;
  const reports: StageReport[] = [];
  /** True once nothing more is to be searched. */
  const isOver = (): boolean => {
    const fraction = Math.min(1, judge.renders() / renders);
    const state = { stage, fraction, best: best?.patch ?? null, overallJnd: best?.distance ?? Infinity };
    if (onProgress?.(state)) cancelled = true;
    return cancelled || seconds() > budgetSeconds;
  };
  const isLocked = (id: string) => locks.includes(id) || locks.some((lock) => lock.startsWith(`${id}.`));
  return {
    judge,
    fine,
    random,
    total: renders,
    reports,
    isLocked,
    isCancelled: () => cancelled,
    limits: { random, isCancelled: isOver },
    isOver,
    /** What only several cuts can tell: how far a filter follows the key. */
    acrossKeys: ({ layers: [{ filters }] }: Patch): Freedom[] =>
      (options.others ?? []).length === 0
        ? []
        : filters
            .filter(({ on }) => on)
            .map(({ id }) => ({ moduleId: id, parameter: 'keyTracking', stage: 'filter', step: 0.15 })),
    isFree: ({ moduleId, parameter, stage: own }: Freedom) =>
      (!only || only.includes(own)) &&
      !locks.some((lock) => lock === moduleId || lock === `${moduleId}.${parameter}` || lock === own),
    /** Runs one stage and writes down what it took and reached. */
    staged<T extends Refined>(name: string, work: () => T): T {
      stage = name;
      const [from, before] = [seconds(), judge.renders()];
      const result = work();
      if (!best || result.distance < best.distance) best = result;
      const spent = { seconds: round(seconds() - from), renders: judge.renders() - before };
      reports.push({ stage: name, ...spent, overallJnd: round(result.distance) });
      return result;
    },
  };
}

type Run = ReturnType<typeof createRun>;

interface Explained extends Refined {
  why: string[];
}

function matchPlain(evidence: CutEvidence, name: string, run: Run): Explained {
  const { judge } = run;
  const { hypotheses, ...started } = run.staged('explanation', () => likeliest(evidence, name, run));
  const all = [...hypotheses.flatMap(({ freedoms }) => freedoms), ...run.acrossKeys(started.patch)].filter(run.isFree);
  const staged = refineByStage(started, all, run);
  const refined = run.staged('together', () =>
    refine(staged, all, judge, { ...run.limits, maxRenders: Math.round(TOGETHER_SHARE * run.total) }),
  );
  const more = addWhatIsMissing(refined, hypotheses, run);
  const pruned = run.staged('pruning', () => prune(more, more.hypotheses, judge, run.isLocked));
  const kept = pruned.kept.flatMap(({ hypothesis }) => hypothesis.freedoms);
  const left = [...kept, ...run.acrossKeys(pruned.patch)].filter(run.isFree);
  const polished = polish(pruned, left, run);
  const rounded = run.staged('rounding', () => roundPatch(polished, left, run.fine));
  return { ...rounded, why: reasonsOf(pruned) };
}

/** Of the structures that are possible the one that comes nearest after a short search, by its price. */
function likeliest(evidence: CutEvidence, name: string, run: Run): Refined & { hypotheses: Hypothesis[] } {
  const possible = structuresOf(evidence);
  const maxRenders = possible.length > 1 ? Math.round((TRIAL_SHARE * run.total) / possible.length) : 0;
  const tried = possible.map(({ hypotheses }) => {
    const patch = patchOf(hypotheses, name, evidence.bpm);
    const all = hypotheses.flatMap(({ freedoms }) => freedoms).filter(run.isFree);
    const tonal = all.filter(({ stage }) => TRIAL_STAGES.includes(stage));
    const start = { patch, distance: run.judge.distance(patch) };
    return { hypotheses, ...refine(start, tonal, run.judge, { ...run.limits, maxRenders }) };
  });
  const priceOf = ({ distance, patch }: Refined) => distance + SETTING_PRICE_JND * settingsOf(patch);
  return tried.reduce((best, one) => (priceOf(one) < priceOf(best) ? one : best));
}

/**
 * While the patch is far away, tries what it has not got yet, each by a short search, and keeps what brings
 * it nearest, if that is worth its price.
 */
function addWhatIsMissing(start: Refined, from: Hypothesis[], run: Run): Refined & { hypotheses: Hypothesis[] } {
  let best = { ...start, hypotheses: from };
  const limits = {
    ...run.limits,
    maxRenders: Math.max(LEAST_ADDITION_RENDERS, Math.round(ADDITION_SHARE * run.total)),
  };
  for (
    let round = 0;
    run.total >= ADDING_RENDERS && round < MOST_ADDITIONS && best.distance > NEAR_JND && !run.isOver();
    round++
  ) {
    const next = run.staged('additions', () => {
      const tried = additionsTo(best.patch.layers[0])
        .filter(({ freedoms }) => freedoms.every(run.isFree))
        .map((hypothesis) => {
          const patch = copied(best.patch);
          hypothesis.apply(patch.layers[0], patch);
          const begun = { patch, distance: run.judge.distance(patch) };
          const hypotheses = [...best.hypotheses, hypothesis];
          return { hypotheses, ...refine(begun, hypothesis.freedoms, run.judge, limits) };
        });
      return tried.reduce((a, b) => (b.distance < a.distance ? b : a), best);
    });
    const price = MODULE_PRICE_JND + SETTING_PRICE_JND * (settingsOf(next.patch) - settingsOf(best.patch));
    if (best.distance - next.distance <= price) break;
    best = next;
  }
  return best;
}

/** Where the search starts from a patch as it is: everything in it that can be turned is. */
function refinePatch(patch: Patch, run: Run): Explained {
  const started = run.staged('given patch', () => ({ patch, distance: run.judge.distance(patch) }));
  const all = [...freedomsOfPatch(patch), ...run.acrossKeys(patch)].filter(run.isFree);
  return { ...polish(refineByStage(started, all, run), all, run), why: [] };
}

function refineByStage(start: Refined, all: readonly Freedom[], run: Run): Refined {
  const open = stages.filter((stage) => all.some((freedom) => freedom.stage === stage));
  return open.reduce((best, stage) => {
    const freedoms = all.filter((freedom) => freedom.stage === stage);
    const maxRenders = Math.round(SHARES[stage] * run.total);
    return run.staged(stage, () => refine(best, freedoms, run.judge, { ...run.limits, maxRenders }));
  }, start);
}

/** All that is left together, in small steps; at last with the octave that the search goes without. */
function polish(start: Refined, freedoms: readonly Freedom[], run: Run): Refined {
  const small = freedoms.map((freedom) => ({ ...freedom, step: freedom.step / 2 }));
  const left = Math.max(0, run.total - run.judge.renders());
  const { limits } = run;
  const near = run.staged('polish', () =>
    refine(start, small, run.judge, { ...limits, maxRenders: Math.round(left / 2) }),
  );
  return run.staged('top octave', () => {
    const heard = { patch: near.patch, distance: run.fine.distance(near.patch) };
    return refine(heard, small, run.fine, { ...limits, maxRenders: Math.round(left / 4) });
  });
}

function patchOf(hypotheses: readonly Hypothesis[], name: string, bpm: number | null): Patch {
  const patch = emptyPatch(name);
  const layer = { ...emptyLayer(), name: 'Tone', sources: [], modulators: [], routes: [] };
  for (const filter of layer.filters) filter.on = false;
  patch.layers = [layer];
  for (const { apply } of hypotheses) apply(layer, patch);
  return atTrackTempo(patch, bpm);
}

/** The plain patch with the spectrum of the cut in place of its sources. */
function mixedPatch(plain: Patch | undefined, copy: Patch): Patch | undefined {
  const [source] = copy.layers[0].sources;
  if (!plain || source.kind !== 'wavetable') return undefined;
  const mixed = copied(plain);
  const [layer] = mixed.layers;
  if (layer.interactions.length > 0) return undefined;
  const [main] = layer.sources;
  const spread =
    'unisonVoices' in main
      ? { unisonVoices: main.unisonVoices, unisonDetuneCents: main.unisonDetuneCents, unisonSpread: main.unisonSpread }
      : {};
  const table = { ...source, id: main.id, name: 'From the cut', position: 50, ...spread };
  layer.sources = [table, ...layer.sources.filter(({ kind }) => kind === 'noise')];
  layer.routes = layer.routes.filter(({ to }) => to.moduleId !== main.id);
  mixed.wavetables = copy.wavetables;
  return mixed;
}

function reasonsOf({ kept, dropped }: Pruned): string[] {
  const worth = (jnd: number | null) => (jnd === null ? '' : `; without it ${jnd.toFixed(1)} JND more`);
  return [
    ...kept.map(({ hypothesis: { name, why }, worthJnd }) => `${name}: ${why}${worth(worthJnd)}`),
    ...dropped.map(({ hypothesis: { name, why } }) => `left out, ${name}: ${why}, but the patch is no nearer with it`),
  ];
}
