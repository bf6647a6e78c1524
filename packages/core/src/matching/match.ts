import type { PhraseNote } from '../engine/render';
import { InputError } from '../patch/inputError';
import type { Patch } from '../patch/schema';
import type { Audio, IsolatedTone } from '../reading/audio';
import type { Overrules } from '../reading/hand/overrules';
import { heardLoudness } from '../reading/level/heardLoudness';
import { type ReadingContext, readTone } from '../reading/read';
import type { Reading } from '../reading/schema';
import { copyPatch } from './copyPatch';
import { gatherEvidence } from './evidence';
import { matchLoudness } from './loudness';
import { mixedPatch } from './mixed';
import { phraseOf } from './phrase';
import { matchPlain, refinePatch } from './plain';
import { heldByHand } from './search/heldByHand';
import type { Judged } from './search/hearing';
import type { Helper } from './search/helper';
import { type Judge, createJudge } from './search/judge';
import { copied } from './search/parameterSpace';
import { MODULE_PRICE_JND } from './search/prune';
import { type RunOptions, type SearchState, type StageReport, createRun } from './search/run';
import { settingsOf } from './search/settings';
import type { CandidateKind, Structure } from './structure';

/** How far a match is. */
export interface MatchState extends SearchState {
  /** Of the cut; empty until it is measured. */
  notes: readonly PhraseNote[];
}

export interface Candidate {
  name: string;
  kind: CandidateKind;
  patch: Patch;
  /** Over the whole cut, at its own rate. */
  overallJnd: number;
  settings: number;
  /** A sentence a module: the evidence, and what it is worth. */
  why: string[];
}

export interface MatchOptions extends Omit<RunOptions, 'onProgress'> {
  /** Told before every generation; ends the search when it returns true. The best so far is kept. */
  onProgress?: (state: MatchState) => boolean | Promise<boolean>;
  name?: string;
  structure?: Structure;
  /** Others are made only where the plain patch is further away than this, JND; always when left out. */
  othersBeyondJnd?: number;
  /** More cuts of the same tone, at other keys or velocities, which the patch has to fit as well. */
  others?: readonly IsolatedTone[];
  /** What else sounded in the cut, as long as it and at its rate: what that covers does not count. */
  surroundings?: Audio;
  /** Other threads, which take their share of the renders. */
  helpers?: readonly Helper[];
  /** Where to start in place of what the evidence says. */
  fromPatch?: Patch;
  /** How far a match had come that was interrupted: it is gone on with in place of what the evidence says. */
  resumed?: Patch;
  context?: ReadingContext;
  /** Values set by hand, which stand in place of those measured and are not turned. */
  overrules?: Overrules;
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

/** Worse than the copy by more than this, the plain patch is not recommended. */
const PLAIN_MARGIN_JND = 1;

/**
 * Rebuilds the tone of a cut: explains it by ordinary modules, turns their numbers stage by stage in the
 * order of work, takes away what is not worth its price, rounds what is left; beside it stand the copy and,
 * where it pays, a mixture of both.
 *
 * Throws an InputError when the cut has no pitch to build on, or when the one structure that is asked for
 * cannot be made.
 */
export async function matchTone(audio: Audio, options: MatchOptions = {}): Promise<Matched> {
  const { name = 'Match', structure = 'any', seed = 1, context, overrules = {}, fromPatch, onProgress } = options;
  const started = Date.now();
  const { helpers = [], resumed = fromPatch } = options;
  const measuring = (fraction: number) =>
    void onProgress?.({ stage: 'measuring', fraction, renders: 0, best: null, overallJnd: Infinity, notes: [] });
  const evidence = gatherEvidence(audio, measuring, context, overrules);
  const { notes, reading } = evidence;
  const judged = { audio, reading, notes, seed, surroundings: options.surroundings };
  const cuts = [judged, ...(options.others ?? []).map((other) => judgedCut(other, options))];
  await Promise.all(helpers.map((helper) => helper.begin(cuts)));
  const judge = createJudge(cuts, 'half', helpers);
  const fine = createJudge(cuts, 'whole', helpers);
  const full = createJudge([judged], 'full');
  const locks = [...(options.locks ?? []), ...heldByHand(overrules)];
  const told = onProgress && ((state: SearchState) => onProgress({ ...state, notes }));
  const run = createRun({ ...options, locks, onProgress: told }, judge, fine, { started, isSeveral: cuts.length > 1 });
  const candidate = (patch: Patch, kind: CandidateKind, why: string[]): Promise<Candidate> =>
    finished(patch, kind, why, judged, full);
  const wants = (kind: CandidateKind) => structure === 'any' || structure === kind;

  const candidates: Candidate[] = [];
  const plain =
    structure === 'copy'
      ? undefined
      : resumed
        ? await refinePatch(resumed, run)
        : await matchPlain(evidence, name, run);
  if (plain && (wants('plain') || fromPatch)) candidates.push(await candidate(plain.patch, 'plain', plain.why));
  const isNear = candidates.length > 0 && candidates[0].overallJnd < (options.othersBeyondJnd ?? 0);
  if (!fromPatch && !isNear && (wants('copy') || wants('mixed'))) {
    const copy = copyPatch(evidence, audio, name);
    if (wants('copy')) candidates.push(await candidate(copy, 'copy', [COPIED]));
    // Where the time is over, only what was asked for is still made.
    const hasTime = structure === 'mixed' || !(await run.isOver());
    const mixed = plain && wants('mixed') && hasTime && (await mixedPatch(plain, copy, run));
    if (mixed) {
      const made = await candidate(mixed.patch, 'mixed', [MIXED, ...plain.why]);
      if (structure === 'mixed' || pays(made, candidates)) candidates.push(made);
    }
  }
  if (candidates.length === 0)
    throw new InputError('A mixture cannot be made of sources that modulate one another; ask for plain or copy.');
  return {
    notes,
    reading,
    ...recommend(candidates),
    stages: run.reports,
    renders: judge.renders() + fine.renders() + full.renders(),
    isCancelled: run.isCancelled(),
  };
}

const COPIED = 'wavetable: taken from the cut along the note, with what its level and pitch do as drawn lines';
const MIXED = 'wavetable: the spectrum of the cut in place of the sources';

/** A mixture pays where it comes nearer than all that is plainer or closer to the cut. */
const pays = ({ overallJnd }: Candidate, others: readonly Candidate[]) =>
  others.every((other) => overallJnd < other.overallJnd - MODULE_PRICE_JND);

/** As loud as the cut, and how far from it. */
async function finished(
  patch: Patch,
  kind: CandidateKind,
  why: string[],
  { audio, reading, notes }: Judged,
  full: Judge,
): Promise<Candidate> {
  const own = copied(patch);
  matchLoudness(own, notes, audio, heardLoudness(reading));
  const overallJnd = Math.round(1000 * (await full.distance(own))) / 1000;
  return { name: `${kind} patch`, kind, patch: own, overallJnd, settings: settingsOf(own), why };
}

function recommend(candidates: readonly Candidate[]): Pick<Matched, 'candidates' | 'recommendation'> {
  const near = [...candidates].sort((a, b) => a.overallJnd - b.overallJnd);
  const plain = candidates.find(({ kind }) => kind === 'plain');
  const copy = candidates.find(({ kind }) => kind === 'copy');
  if (!plain || !copy || plain.overallJnd <= copy.overallJnd + PLAIN_MARGIN_JND) {
    const best = plain ?? near[0];
    return { candidates: [best, ...near.filter((other) => other !== best)], recommendation: '' };
  }
  const [best] = near;
  const furtherJnd = (plain.overallJnd - best.overallJnd).toFixed(1);
  return {
    candidates: near,
    recommendation: `The plain patch is ${furtherJnd} JND further away than the ${best.kind} one, so that one is recommended.`,
  };
}

/** Another cut of the tone, with its own notes. */
function judgedCut(tone: IsolatedTone, { seed = 1, context }: MatchOptions): Judged {
  const reading = readTone(tone.audio, undefined, context);
  if (reading.notes.length === 0) throw new InputError('In one of the cuts no note was found.');
  return { ...tone, reading, notes: phraseOf(reading), seed };
}
