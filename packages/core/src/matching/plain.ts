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
import { type Refined, refine } from './search/refine';
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

export interface Explained extends Refined {
  why: string[];
  /** What of it can be turned. */
  freedoms: Freedom[];
}

/** The evidence as a plain patch, searched, added to, pruned and rounded. */
export function matchPlain(evidence: CutEvidence, name: string, run: Run): Explained {
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
  return { ...rounded, why: reasonsOf(pruned), freedoms: left };
}

/** Of the structures that are possible the one that comes nearest after a short search, by its price. */
function likeliest(evidence: CutEvidence, name: string, run: Run): Refined & { hypotheses: Hypothesis[] } {
  const [first, ...others] = structuresOf(evidence);
  const held = first.hypotheses.flatMap(({ brings }) => brings).filter(run.isLocked);
  // What is set by hand or locked is not given up for another structure.
  const possible = [
    first,
    ...others.filter(({ hypotheses }) => held.every((id) => hypotheses.some(({ brings }) => brings.includes(id)))),
  ];
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
export function refinePatch(patch: Patch, run: Run): Explained {
  const started = run.staged('given patch', () => ({ patch, distance: run.judge.distance(patch) }));
  const all = [...freedomsOfPatch(patch), ...run.acrossKeys(patch)].filter(run.isFree);
  return { ...polish(refineByStage(started, all, run), all, run), why: [], freedoms: all };
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

function reasonsOf({ kept, dropped }: Pruned): string[] {
  const worth = (jnd: number | null) => (jnd === null ? '' : `; without it ${jnd.toFixed(1)} JND more`);
  return [
    ...kept.map(({ hypothesis: { name, why }, worthJnd }) => `${name}: ${why}${worth(worthJnd)}`),
    ...dropped.map(({ hypothesis: { name, why } }) => `left out, ${name}: ${why}, but the patch is no nearer with it`),
  ];
}
