/**
 * Tones as people make them, by formula, with what is in them: the kinds that the trade names (common
 * practice), with numbers of their own from a seed. Nothing here uses the engine.
 */
import { withDelay, withRoom } from '../effects';
import { basses } from './basses';
import { leads } from './leads';
import { type Feature, type MadeTone, diceOf, soft } from './madeTone';
import { others } from './others';
import { pads } from './pads';
import { type Signal, driven, lengthOf, twoPole } from './parts';
import { plucks } from './plucks';
import { sidebands } from './sidebands';

/** Tones of every kind; where one stands tells its numbers, so new ones come last. */
export const makers = { ...plucks, ...basses, ...leads, ...pads, ...sidebands, ...others };

export type MadeName = keyof typeof makers;

const names = Object.keys(makers) as MadeName[];

/** A tone of one kind, with the numbers of a seed. */
export const madeTone = (name: MadeName, seed: number): MadeTone => ({
  name,
  ...makers[name](diceOf(1000 * seed + names.indexOf(name))),
});

/** A tone of every kind, with the numbers of a seed. */
export const madeTones = (seed: number): MadeTone[] => names.map((name) => madeTone(name, seed));

/** What is done to tones after their source, and what it adds to them. */
export const treatments: Readonly<
  Record<string, { adds: readonly Feature[]; run: (signal: Signal, seed: number) => Signal }>
> = {
  dry: { adds: [], run: (signal) => signal },
  drive: { adds: ['dirt'], run: (signal) => driven(signal, (x) => 0.5 * soft(4 * x)) },
  filter: { adds: [], run: (signal, seed) => twoPole(signal, 'low', () => 700 * 2 ** (seed % 3), 0.8) },
  chorus: { adds: ['motion', 'voices', 'vibrato'], run: chorused },
  room: {
    adds: ['room', 'motion'],
    run: (signal, seed) => {
      const long = new Float64Array(signal.length + lengthOf(1));
      long.set(signal);
      return withRoom(long, { rt60Seconds: 0.9, wetDb: -14, seed: seed + 3 });
    },
  },
};

function chorused(signal: Signal, seed: number): Signal {
  const rate = 0.6 + 0.2 * (seed % 4);
  return withDelay(signal, (t) => 0.012 + 0.003 * Math.sin(2 * Math.PI * rate * t), 0.7);
}
