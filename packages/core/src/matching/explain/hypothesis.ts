import type { PhraseNote } from '../../engine/render';
import { defaultEnvelope } from '../../patch/defaults';
import { routeSchema } from '../../patch/schemas/modulatorSchema';
import type { Envelope, Layer, Modulator, Patch, Route } from '../../patch/schema';
import type { Measurement } from '../../reading/read';
import type { Reading } from '../../reading/schema';

/** Stages in the order of work; each is refined on its own. */
export const stages = ['sources', 'level', 'filter', 'pitch', 'movement', 'dirt', 'noise', 'space'] as const;
export type Stage = (typeof stages)[number];

/** What a tone is explained by. */
export interface Evidence {
  /** The note that is rebuilt, measured by itself. */
  note: Measurement;
  /** The notes of the cut. */
  notes: readonly PhraseNote[];
  /** How long they slide into one another; null where they do not. */
  glideSeconds: number | null;
  /** Note number that the patch will be played at for that note. */
  midi: number;
  /** Tempo of the track; null where it is not known. */
  bpm: number | null;
}

/** One of the plain waveforms that add up to the partials. */
export type Part = Reading['traits']['sources']['parts'][number];

/** A number that the search may turn: of a module, or the amount of a route. */
export interface Freedom {
  moduleId: string;
  parameter: string;
  stage: Stage;
  /** First step of the search, a share of the parameter's ruler. */
  step: number;
  /** Of a number that the evidence does not tell: where else it may begin. */
  startsAt?: readonly number[];
}

/**
 * What one kind of evidence says that a patch should have: a fragment of it, which of its numbers are open,
 * how sure it is and why.
 */
export interface Hypothesis {
  /** What it is in a word or two, which also names what it adds. */
  name: string;
  stage: Stage;
  confidence: number;
  /** The evidence in a sentence. */
  why: string;
  /** Adds the fragment to the layer. */
  apply: (layer: Layer, patch: Patch) => void;
  freedoms: readonly Freedom[];
  /** Modules and routes that it stands for; without them it is gone. Empty of what every patch has. */
  brings: readonly string[];
  /** Whether the structure is nothing without it: it is not given up before it was searched. */
  isAssumed?: boolean;
}

/** Turns one kind of evidence into hypotheses; several where there is more than one of a kind. */
export type Explainer = (evidence: Evidence) => Hypothesis[];

/** Freedoms of one module, all of one stage. */
export const freedoms = (moduleId: string, stage: Stage, steps: Readonly<Record<string, number>>): Freedom[] =>
  Object.entries(steps).map(([parameter, step]) => ({ moduleId, parameter, stage, step }));

/** Adds a modulator, unless it is there, and a route from it; returns the route's id. */
export function route(
  layer: Layer,
  modulator: Modulator,
  to: Route['to'],
  amount: number,
  polarity: Route['polarity'] = 'unipolar',
): string {
  if (!layer.modulators.some(({ id }) => id === modulator.id)) layer.modulators.push(modulator);
  const id = routeId(modulator.id, to);
  layer.routes.push(routeSchema.parse({ id, from: modulator.id, to, amount, polarity }));
  return id;
}

export const routeId = (from: string, { moduleId, parameter }: Route['to']) =>
  `${from}-${moduleId}-${parameter}`.slice(0, 40);

/** An envelope that falls once from its top to nothing. */
export const fallingEnvelope = (id: string, name: string, seconds: number): Envelope => ({
  ...defaultEnvelope(id, name),
  attackSeconds: 0,
  decaySeconds: seconds,
  sustainDb: -96,
  releaseSeconds: seconds,
});

/** "0.35", "12", "3.1": as many digits as are read; next to nothing is nothing. */
export const short = (value: number) => String(Math.abs(value) < 5e-4 ? 0 : Number(value.toPrecision(3)));
