import type { Source } from '../../patch/schema';
import type { phaseShapes } from '../../patch/schemas/sourceSchema';

export type PhaseShapeName = (typeof phaseShapes)[number];
type DrawnPhase = Extract<Source, { kind: 'shape' }>['drawnPhase'];

/** Numbers for the inner loops: comparing them is cheaper than comparing names. */
export const phaseShapeCode = {
  none: 0,
  crowded: 1,
  leaning: 2,
  hardSync: 3,
  hardSyncFaded: 4,
  thereAndBack: 5,
  stairs: 6,
  drawnTime: 7,
} as const satisfies Record<PhaseShapeName, number>;

export type PhaseShapeCode = (typeof phaseShapeCode)[PhaseShapeName];

/** Points of a drawn phase in typed arrays. */
export interface DrawnPhaseProgram {
  x: Float64Array;
  y: Float64Array;
  /** Of the steepest line. */
  slope: number;
}

export function compileDrawnPhase(points: DrawnPhase): DrawnPhaseProgram {
  const x = Float64Array.from(points, (point) => point.x);
  const y = Float64Array.from(points, (point) => point.y);
  let slope = 1;
  for (let i = 1; i < x.length; i++) slope = Math.max(slope, Math.abs(y[i] - y[i - 1]) / (x[i] - x[i - 1]));
  return { x, y, slope };
}

/**
 * Knee where one half is crowded most, as a share of the period: what is squeezed is read at most this much
 * faster.
 */
const MIN_KNEE = 0.02;
/** Exponent where it leans most. */
const MAX_LEAN_POWER = 8;

/**
 * Where in its period a source is read at phase `phase`, both in cycles 0..1: phase distortion (Ishibashi
 * 1985, US patent 4658691, long expired) and its relatives. One period in, one period out, so the pitch
 * stays.
 *
 * @param amount −1..1; for the sync kinds where in its own period the synced oscillator begins anew, cycles
 * @param extra for sync the ratio of the synced oscillator to the note, for stairs the count of steps
 */
export function shapedPhase(
  code: PhaseShapeCode,
  phase: number,
  amount: number,
  extra: number,
  drawn: DrawnPhaseProgram,
): number {
  switch (code) {
    case 1: {
      const knee = kneeOf(amount);
      return phase < knee ? (0.5 * phase) / knee : 0.5 + (0.5 * (phase - knee)) / (1 - knee);
    }
    case 2: {
      const power = MAX_LEAN_POWER ** Math.abs(amount);
      return amount >= 0 ? phase ** power : 1 - (1 - phase) ** power;
    }
    case 3:
    case 4: {
      const ahead = amount + phase * extra;
      return ahead - Math.floor(ahead);
    }
    case 5: {
      const ahead = phase * (1 + Math.abs(amount));
      return ahead <= 1 ? ahead : 2 - ahead;
    }
    case 6:
      return phase + Math.abs(amount) * (Math.floor(phase * extra) / extra - phase);
    case 7:
      return phase + Math.abs(amount) * (drawnAt(drawn, phase) - phase);
    default:
      return phase;
  }
}

const kneeOf = (amount: number) => Math.max(MIN_KNEE, Math.min(1 - MIN_KNEE, 0.5 * (1 - amount)));

function drawnAt({ x, y }: DrawnPhaseProgram, phase: number): number {
  const last = x.length - 1;
  if (phase <= x[0]) return y[0];
  if (phase >= x[last]) return y[last];
  let i = 1;
  while (x[i] < phase) i++;
  return y[i - 1] + ((y[i] - y[i - 1]) * (phase - x[i - 1])) / (x[i] - x[i - 1]);
}

/** How many times faster than the note the period is read at most: by so much its partials are moved up. */
export function steepestSlope(code: PhaseShapeCode, amount: number, extra: number, drawn: DrawnPhaseProgram): number {
  switch (code) {
    case 1: {
      const knee = kneeOf(amount);
      return 0.5 / Math.min(knee, 1 - knee);
    }
    case 2:
      return MAX_LEAN_POWER ** Math.abs(amount);
    case 3:
    case 4:
      return Math.max(1, extra);
    case 5:
      return 1 + Math.abs(amount);
    case 7:
      return 1 + Math.abs(amount) * (drawn.slope - 1);
    default:
      return 1;
  }
}

/** Whether the shape can jump within a period or at its end, which must be smoothed against aliasing. */
export const canJump = (code: PhaseShapeCode): boolean => code === 3 || code >= 5;

/** Level of a faded hard sync over its period: a Hann window, so that nothing jumps where the period ends. */
export const syncWindow = (phase: number): number => 0.5 - 0.5 * Math.cos(2 * Math.PI * phase);
