import { emptyLayer, emptyPatch } from '../patch/defaults';
import type { Patch } from '../patch/schema';
import { atTrackTempo } from '../patch/tempo';
import type { CutEvidence } from './evidence';
import { additionsTo } from './explain/additions';
import { type Freedom, type Hypothesis, type Stage, stages } from './explain/hypothesis';
import { structuresOf } from './explain/structures';
import { copied } from './search/parameterSpace';
import { freedomsOfPatch } from './search/freedomsOfPatch';
import { MODULE_PRICE_JND, type Pruned, SETTING_PRICE_JND, prune } from './search/prune';
import { type Limits, type Refined, refine } from './search/refine';
import { roundPatch } from './search/round';
import type { Run } from './search/run';
import { settingsOf } from './search/settings';

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

interface Assumed {
  hypotheses: Hypothesis[];
}

export interface Explained extends Refined {
  why: string[];
  /** What of it can be turned. */
  freedoms: Freedom[];
}

/** The evidence as a plain patch, searched, added to, pruned and rounded. */
export async function matchPlain(evidence: CutEvidence, name: string, run: Run): Promise<Explained> {
  const { judge } = run;
  const { hypotheses, ...started } = await run.staged('explanation', () => likeliest(evidence, name, run));
  const all = [...hypotheses.flatMap(({ freedoms }) => freedoms), ...run.acrossKeys(started.patch)].filter(run.isFree);
  const staged = await refineByStage(started, all, run);
  const refined = await run.staged('together', () =>
    refine(staged, all, judge, { ...run.limits, maxRenders: Math.round(TOGETHER_SHARE * run.total) }),
  );
  const more = await addWhatIsMissing(refined, hypotheses, run);
  const pruned = await run.staged('pruning', () => prune(more, more.hypotheses, judge, run.isLocked));
  const kept = pruned.kept.flatMap(({ hypothesis }) => hypothesis.freedoms);
  const left = [...kept, ...run.acrossKeys(pruned.patch)].filter(run.isFree);
  const polished = await polish(pruned, left, run);
  const rounded = await run.staged('rounding', () => roundPatch(polished, left, run.fine));
  return { ...rounded, why: reasonsOf(pruned), freedoms: left };
}

/** Of the structures that are possible the one that comes nearest after a short search, by its price. */
async function likeliest(evidence: CutEvidence, name: string, run: Run): Promise<Refined & Assumed> {
  const [first, ...others] = structuresOf(evidence);
  const held = first.hypotheses.flatMap(({ brings }) => brings).filter(run.isLocked);
  // What is set by hand or locked is not given up for another structure.
  const possible = [
    first,
    ...others.filter(({ hypotheses }) => held.every((id) => hypotheses.some(({ brings }) => brings.includes(id)))),
  ];
  const maxRenders = possible.length > 1 ? Math.round((TRIAL_SHARE * run.total) / possible.length) : 0;
  const patches = possible.map(({ hypotheses }) => patchOf(hypotheses, name, evidence.bpm));
  const distances = await run.judge.distances(patches);
  const tried: (Refined & Assumed)[] = [];
  for (const [i, { hypotheses }] of possible.entries()) {
    const all = hypotheses.flatMap(({ freedoms }) => freedoms).filter(run.isFree);
    const tonal = all.filter(({ stage }) => TRIAL_STAGES.includes(stage));
    const start = { patch: patches[i], distance: distances[i] };
    tried.push({ hypotheses, ...(await refine(start, tonal, run.judge, { ...run.limits, maxRenders })) });
  }
  const priceOf = ({ distance, patch }: Refined) => distance + SETTING_PRICE_JND * settingsOf(patch);
  return tried.reduce((best, one) => (priceOf(one) < priceOf(best) ? one : best));
}

/**
 * While the patch is far away, tries what it has not got yet, each by a short search, and keeps what brings
 * it nearest, if that is worth its price.
 */
async function addWhatIsMissing(start: Refined, from: Hypothesis[], run: Run): Promise<Refined & Assumed> {
  let best: Refined & Assumed = { ...start, hypotheses: from };
  const limits = {
    ...run.limits,
    maxRenders: Math.max(LEAST_ADDITION_RENDERS, Math.round(ADDITION_SHARE * run.total)),
  };
  for (
    let round = 0;
    run.total >= ADDING_RENDERS && round < MOST_ADDITIONS && best.distance > NEAR_JND && !(await run.isOver());
    round++
  ) {
    const from = best;
    const next = await run.staged('additions', () => nearestAddition(from, run, limits));
    const price = MODULE_PRICE_JND + SETTING_PRICE_JND * (settingsOf(next.patch) - settingsOf(best.patch));
    if (best.distance - next.distance <= price) break;
    best = next;
  }
  return best;
}

async function nearestAddition(start: Refined & Assumed, run: Run, limits: Limits): Promise<Refined & Assumed> {
  const additions = additionsTo(start.patch.layers[0]).filter(({ freedoms }) => freedoms.every(run.isFree));
  const patches = additions.map(({ apply }) => {
    const patch = copied(start.patch);
    apply(patch.layers[0], patch);
    return patch;
  });
  const distances = await run.judge.distances(patches);
  let best = start;
  for (const [i, addition] of additions.entries()) {
    const begun = { patch: patches[i], distance: distances[i] };
    const refined = await refine(begun, addition.freedoms, run.judge, limits);
    if (refined.distance < best.distance) best = { ...refined, hypotheses: [...start.hypotheses, addition] };
  }
  return best;
}

/** Where the search starts from a patch as it is: everything in it that can be turned is. */
export async function refinePatch(patch: Patch, run: Run): Promise<Explained> {
  const started = await run.staged('given patch', async () => ({
    patch,
    distance: await run.judge.distance(patch),
  }));
  const all = [...freedomsOfPatch(patch), ...run.acrossKeys(patch)].filter(run.isFree);
  const staged = await refineByStage(started, all, run);
  return { ...(await polish(staged, all, run)), why: [], freedoms: all };
}

async function refineByStage(start: Refined, all: readonly Freedom[], run: Run): Promise<Refined> {
  let best = start;
  for (const stage of stages) {
    const from = best;
    const freedoms = all.filter((freedom) => freedom.stage === stage);
    if (freedoms.length === 0) continue;
    const maxRenders = Math.round(SHARES[stage] * run.total);
    best = await run.staged(stage, () => refine(from, freedoms, run.judge, { ...run.limits, maxRenders }));
  }
  return best;
}

/** All that is left together, in small steps; at last with the octave that the search goes without. */
async function polish(start: Refined, freedoms: readonly Freedom[], run: Run): Promise<Refined> {
  const small = freedoms.map((freedom) => ({ ...freedom, step: freedom.step / 2 }));
  const left = Math.max(0, run.total - run.judge.renders());
  const { limits } = run;
  const near = await run.staged('polish', () =>
    refine(start, small, run.judge, { ...limits, maxRenders: Math.round(left / 2) }),
  );
  return run.staged('top octave', async () => {
    const heard = { patch: near.patch, distance: await run.fine.distance(near.patch) };
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

function reasonsOf({ kept, dropped }: Pruned): string[] {
  const worth = (jnd: number | null) => (jnd === null ? '' : `; without it ${jnd.toFixed(1)} JND more`);
  return [
    ...kept.map(({ hypothesis: { name, why }, worthJnd }) => `${name}: ${why}${worth(worthJnd)}`),
    ...dropped.map(({ hypothesis: { name, why } }) => `left out, ${name}: ${why}, but the patch is no nearer with it`),
  ];
}
