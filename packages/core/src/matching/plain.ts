import { hzFromMidi } from '../dsp/pitch';
import type { Patch } from '../patch/schema';
import { atTrackTempo } from '../patch/tempo';
import type { CutEvidence } from './evidence';
import { asLoudAs } from './loudness';
import { additionsTo } from './explain/additions';
import { type Freedom, type Hypothesis, type Stage, stages } from './explain/hypothesis';
import { patchMadeOf } from './explain/made';
import { structuresOf } from './explain/structures';
import type { Structure } from './explain/structures/structure';
import { beginningsOf } from './search/beginnings';
import { calibrated, calibratedDistances } from './search/calibrate';
import { chooseAmongFew, chooseBeginning } from './search/choices';
import type { Judge } from './search/judge';
import { copied } from './search/parameterSpace';
import { freedomsOfPatch } from './search/freedomsOfPatch';
import { MODULE_PRICE_JND, type Pruned, SETTING_PRICE_JND, prune } from './search/prune';
import { type Limits, type Refined, refine } from './search/refine';
import { roundPatch } from './search/round';
import type { Run } from './search/run';
import { screen } from './search/screen';
import { settingsOf } from './search/settings';

/** Of the renders, what all structures that exclude one another are given before the worse half is left. */
const RACE_SHARE = 0.12;
/** What starts so far away does not catch up. */
const HOPELESS = 2;
const HOPELESS_JND = 4;
/** A generation of the search at the least. */
const LEAST_RACE_RENDERS = 10;
/**
 * A patch that is so much further away once the top octave is heard is searched on with that octave: at
 * first, when it is rough, and later.
 */
const TOP_MATTERS_JND = { first: 1, later: 0.3 };
/** Nearer than this nothing more is added. */
const NEAR_JND = 1;
const MOST_ADDITIONS = 3;
/** All that is free at once, before anything is added or taken away. */
const TOGETHER_SHARE = 0.2;
/** Of the renders, for each choice between a few. */
const CHOICE_SHARE = 0.03;
/** Of the renders, for each that is tried at first, and how many of them are tried for longer. */
const ADDITION_SHARE = 0.012;
const LEAST_ADDITION_RENDERS = 6;
const ADDITIONS_KEPT = 0.3;
/** With fewer in all, they are better spent on what the evidence says. */
const ADDING_RENDERS = 300;
const SCREENING_RENDERS = 100;

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
  /** What was read, but took the start further away. */
  leftOut: Hypothesis[];
}

export interface Explained extends Refined {
  why: string[];
  /** What of it can be turned. */
  freedoms: Freedom[];
}

/** The evidence as a plain patch, searched, added to, pruned and rounded. */
export async function matchPlain(evidence: CutEvidence, name: string, run: Run): Promise<Explained> {
  const { judge } = run;
  const likely = await run.staged('explanation', async () =>
    calibrated(await likeliest(evidence, name, run), run, judge),
  );
  const first = await listenedTo(likely, run, judge, TOP_MATTERS_JND.first);
  // What seemed right without the top octave may be what takes it away.
  const { hypotheses, leftOut, ...started } =
    first.judge === judge ? likely : await screened({ ...likely, distance: first.distance }, run, first.judge);
  const all = [...hypotheses.flatMap(({ freedoms }) => freedoms), ...run.acrossKeys(started.patch)].filter(run.isFree);
  const begun = await run.staged('beginning', async () =>
    run.total() < SCREENING_RENDERS || (await run.isOver())
      ? started
      : chooseBeginning(started, 1 / hzFromMidi(evidence.midi), first.judge, run.isFree),
  );
  const staged = await refineByStage(begun, all, run, first.judge);
  const nearby = await calibrated(staged, run, first.judge);
  const refined = await run.staged('together', () =>
    refine(nearby, all, first.judge, { ...run.limits, maxRenders: Math.round(TOGETHER_SHARE * run.total()) }),
  );
  const share = { ...run.limits, maxRenders: Math.round(CHOICE_SHARE * run.total()) };
  const chosen = await run.staged('choices', () => chooseAmongFew(refined, all, first.judge, share, run.isLocked));
  const { judge: listening, distance } = await listenedTo(chosen, run, first.judge, TOP_MATTERS_JND.later);
  const open = { ...chosen, distance, hypotheses, leftOut };
  const more = await addWhatIsMissing(open, run, listening);
  const pruned = await run.staged('pruning', () => prune(more, more.hypotheses, listening, run.isLocked));
  const kept = pruned.kept.flatMap(({ hypothesis }) => hypothesis.freedoms);
  const left = [...kept, ...run.acrossKeys(pruned.patch)].filter(run.isFree);
  const polished = await polish(pruned, left, run, listening);
  const hasTime = !(await run.isOver());
  const rounding = hasTime ? run.fine : listening;
  const rounded = await run.staged('rounding', () => roundPatch(polished, left, rounding, hasTime));
  return { ...rounded, why: [...reasonsOf(pruned, leftOut), ...chosen.why], freedoms: left };
}

/** Who is to judge from here on; to hear the top octave takes time of its own. */
async function listenedTo(
  { patch, distance }: Refined,
  run: Run,
  judge: Judge,
  mattersJnd: number,
): Promise<{ judge: Judge; distance: number }> {
  if (judge === run.fine || (await run.isOver())) return { judge, distance };
  const heard = await run.fine.distance(patch);
  return heard > distance + mattersJnd ? { judge: run.fine, distance: heard } : { judge, distance };
}

/** The same without what makes it worse as it was read, where there is time to find out. */
async function screened(start: Refined & Assumed, run: Run, judge: Judge): Promise<Refined & Assumed> {
  if (run.total() < SCREENING_RENDERS || (await run.isOver())) return start;
  const { leftOut, ...rest } = await screen(start, start.hypotheses, judge, run.isLocked);
  return { ...rest, leftOut: [...start.leftOut, ...leftOut] };
}

/** Of the structures that are possible the one that comes nearest, by its price, in a race. */
async function likeliest(evidence: CutEvidence, name: string, run: Run): Promise<Refined & Assumed> {
  const [first, ...others] = structuresOf(evidence);
  const held = first.hypotheses.flatMap(({ brings }) => brings).filter(run.isLocked);
  // What is set by hand or locked is not given up for another structure.
  const possible = [
    first,
    ...others.filter(({ hypotheses }) => held.every((id) => hypotheses.some(({ brings }) => brings.includes(id)))),
  ];
  const patches = await begunNearest(possible, name, evidence, run);
  const distances = await calibratedDistances(patches, await run.judge.distances(patches), run, run.judge);
  const least = Math.min(...distances);
  const racing = possible
    .map(({ hypotheses }, i) => ({ hypotheses, leftOut: [], patch: patches[i], distance: distances[i] }))
    .filter(({ distance }) => distance <= HOPELESS * least + HOPELESS_JND);
  const racers: (Refined & Assumed)[] = [];
  for (const racer of racing) racers.push(await screened(racer, run, run.judge));
  const renders = Math.max(LEAST_RACE_RENDERS, Math.round((RACE_SHARE * run.total()) / racers.length));
  return race(
    racers,
    run.total() < ADDING_RENDERS ? 0 : 0.5,
    renders,
    ({ hypotheses, patch, distance }, maxRenders) => {
      const all = hypotheses.flatMap(({ freedoms }) => freedoms).filter(run.isFree);
      return refine({ patch, distance }, all, run.judge, { ...run.limits, maxRenders });
    },
  );
}

/** Each structure's patch from where it begins nearest, of the places that the evidence leaves open. */
async function begunNearest(
  structures: readonly Structure[],
  name: string,
  evidence: CutEvidence,
  run: Run,
): Promise<Patch[]> {
  const begun = structures.map(({ hypotheses }) => {
    const free = hypotheses.flatMap(({ freedoms }) => freedoms).filter(run.isFree);
    return beginningsOf(patchOf(hypotheses, name, evidence), run.total() < SCREENING_RENDERS ? [] : free);
  });
  const several = begun.filter(({ length }) => length > 1).flat();
  const distances = await run.judge.distances(several);
  const distanceOf = new Map(several.map((patch, i) => [patch, distances[i]]));
  return begun.map((patches) => patches.reduce((a, b) => (distanceOf.get(b)! < distanceOf.get(a)! ? b : a)));
}

/**
 * Successive halving (Jamieson & Talwalkar 2016): all are searched a little, a share of them, at least one,
 * is searched twice as long, until one is left. With a single one there is nothing to find out.
 */
async function race(
  racers: readonly (Refined & Assumed)[],
  keptShare: number,
  renders: number,
  search: (racer: Refined & Assumed, renders: number) => Promise<Refined>,
): Promise<Refined & Assumed> {
  if (racers.length === 1) return racers[0];
  const further: (Refined & Assumed)[] = [];
  for (const racer of racers) further.push({ ...racer, ...(await search(racer, renders)) });
  further.sort((a, b) => priceOf(a) - priceOf(b));
  return race(further.slice(0, Math.max(1, Math.floor(keptShare * racers.length))), keptShare, 2 * renders, search);
}

const priceOf = ({ distance, patch }: Refined) => distance + SETTING_PRICE_JND * settingsOf(patch);

/**
 * While the patch is far away, tries what it has not got yet, each by a short search, and keeps what brings
 * it nearest, if that is worth its price.
 */
async function addWhatIsMissing(start: Refined & Assumed, run: Run, judge: Judge): Promise<Refined & Assumed> {
  let best = start;
  const limits = {
    ...run.limits,
    maxRenders: Math.max(LEAST_ADDITION_RENDERS, Math.round(ADDITION_SHARE * run.total())),
  };
  for (
    let round = 0;
    run.total() >= ADDING_RENDERS && round < MOST_ADDITIONS && best.distance > NEAR_JND && !(await run.isOver());
    round++
  ) {
    const from = best;
    const next = await run.staged('additions', () => nearestAddition(from, run, judge, limits));
    const price = MODULE_PRICE_JND + SETTING_PRICE_JND * (settingsOf(next.patch) - settingsOf(best.patch));
    if (best.distance - next.distance <= price) break;
    best = next;
  }
  return best;
}

async function nearestAddition(
  start: Refined & Assumed,
  run: Run,
  judge: Judge,
  limits: Limits,
): Promise<Refined & Assumed> {
  const additions = additionsTo(start.patch.layers[0]).filter(({ freedoms }) => freedoms.every(run.isFree));
  const patches = additions.map(({ apply }) => {
    const patch = copied(start.patch);
    apply(patch.layers[0], patch);
    return patch;
  });
  if (additions.length === 0) return start;
  const distances = await judge.distances(patches);
  const racers = additions.map((addition, i) => ({
    patch: patches[i],
    distance: distances[i],
    hypotheses: [...start.hypotheses, addition],
    leftOut: start.leftOut,
  }));
  const best = await race(racers, ADDITIONS_KEPT, limits.maxRenders, ({ hypotheses, patch, distance }, maxRenders) =>
    refine({ patch, distance }, hypotheses.at(-1)!.freedoms, judge, { ...limits, maxRenders }),
  );
  return best.distance < start.distance ? best : start;
}

/** Where the search starts from a patch as it is: everything in it that can be turned is. */
export async function refinePatch(patch: Patch, run: Run): Promise<Explained> {
  const started = await run.staged('given patch', async () =>
    calibrated({ patch, distance: await run.judge.distance(patch) }, run, run.judge),
  );
  const all = [...freedomsOfPatch(patch), ...run.acrossKeys(patch)].filter(run.isFree);
  const staged = await refineByStage(started, all, run, run.judge);
  return { ...(await polish(staged, all, run, run.judge)), why: [], freedoms: all };
}

async function refineByStage(start: Refined, all: readonly Freedom[], run: Run, judge: Judge): Promise<Refined> {
  let best = start;
  for (const stage of stages) {
    const from = best;
    const freedoms = all.filter((freedom) => freedom.stage === stage);
    if (freedoms.length === 0) continue;
    const maxRenders = Math.round(SHARES[stage] * run.total());
    best = await run.staged(stage, () => refine(from, freedoms, judge, { ...run.limits, maxRenders }));
  }
  return best;
}

/** All that is left together, in small steps; at last with the octave that the search went without. */
async function polish(start: Refined, freedoms: readonly Freedom[], run: Run, judge: Judge): Promise<Refined> {
  const { fine, limits } = run;
  const small = freedoms.map((freedom) => ({ ...freedom, step: freedom.step / 2 }));
  const left = run.left();
  const begun = await calibrated(start, run, judge);
  const near = await run.staged('polish', () =>
    refine(begun, small, judge, { ...limits, maxRenders: Math.round(left / (judge === fine ? 3 : 2)) }),
  );
  if (judge === fine || (await run.isOver())) return near;
  return run.staged('top octave', async () => {
    const heard = { patch: near.patch, distance: await fine.distance(near.patch) };
    return refine(heard, small, fine, { ...limits, maxRenders: Math.round(left / 4) });
  });
}

function patchOf(hypotheses: readonly Hypothesis[], name: string, { audio, notes, bpm }: CutEvidence): Patch {
  const patch = patchMadeOf(hypotheses, name);
  // A grid of values stands where it was read at the level of the cut.
  const isRounded = patch.layers[0].effects.some(({ kind }) => kind === 'reducer');
  return atTrackTempo(isRounded ? asLoudAs(patch, notes, audio) : patch, bpm);
}

function reasonsOf({ kept, dropped }: Pruned, leftOut: readonly Hypothesis[]): string[] {
  const worth = (jnd: number | null) => (jnd === null ? '' : `; without it ${jnd.toFixed(1)} JND more`);
  return [
    // What matters most first; what every patch has is worth nothing by itself.
    ...kept
      .toSorted((a, b) => (b.worthJnd ?? 0) - (a.worthJnd ?? 0))
      .map(({ hypothesis: { name, why }, worthJnd }) => `${name}: ${why}${worth(worthJnd)}`),
    ...[...dropped.map(({ hypothesis }) => hypothesis), ...leftOut].map(
      ({ name, why }) => `left out, ${name}: ${why}, but the patch is no nearer with it`,
    ),
  ];
}
