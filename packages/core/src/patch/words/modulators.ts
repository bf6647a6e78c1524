import { formatValue } from '../../parameters/format';
import { lfoShapeTitles } from '../../parameters/shapes';
import type { Modulator } from '../schema';

/**
 * What movements are called and what of them counts, by kind: strip, lanes, editor and recipe are made of
 * this table.
 */

type ModulatorKind = Modulator['kind'];
type ModulatorOf<K extends ModulatorKind> = Extract<Modulator, { kind: K }>;

interface ModulatorDescriptor<K extends ModulatorKind> {
  /** What it is, in a few words. */
  words(modulator: ModulatorOf<K>): string;
  /** What it is set to besides numbers that have changed; undefined where those say all. */
  told(modulator: ModulatorOf<K>): string | undefined;
  /** What becomes of something that it moves, by `amount`. */
  heard(what: string, amount: number): string;
  /** Numbers that mean nothing as it is set. */
  hidden(modulator: ModulatorOf<K>): readonly string[];
  /** Whether it goes both ways by nature, so that its routes start as bipolar ones. */
  goesBothWays(modulator: ModulatorOf<K>): boolean;
}

export const noteValueTitles = {
  velocity: 'Velocity',
  key: 'Key',
  random: 'Random per note',
  unison: 'Place among unison voices',
  counter: 'Note counter',
  releaseVelocity: 'Release velocity',
  wheel: 'Wheel',
  pressure: 'Pressure',
  bend: 'Bend',
} as const satisfies Record<ModulatorOf<'note'>['of'], string>;

const descriptors: { readonly [K in ModulatorKind]: ModulatorDescriptor<K> } = {
  envelope: {
    words: ({ loop }) => (loop ? 'looped envelope' : 'envelope'),
    told: () => undefined,
    heard: (what, amount) => `${what} starts ${amount > 0 ? 'higher and comes down' : 'lower and comes up'}`,
    hidden: () => [],
    goesBothWays: () => false,
  },
  contour: {
    words: ({ points }) => `line of ${points.length} points`,
    heard: (what) => `${what} goes its way along the note`,
    told: ({ points }) => `over ${formatValue(points[points.length - 1].seconds, 's')}`,
    hidden: () => [],
    goesBothWays: () => true,
  },
  lfo: {
    words: ({ shape }) => `LFO, ${lfoShapeTitles[shape]}`,
    heard: (what) => `${what} goes up and down`,
    told: ({ division }) => (division === null ? undefined : `at ${division} of the tempo`),
    hidden: ({ division }) => (division === null ? [] : ['rateHz']),
    goesBothWays: () => true,
  },
  note: {
    words: ({ of }) => noteValueTitles[of].toLowerCase(),
    heard: (what) => `${what} differs from note to note`,
    told: ({ of, cycle }) => (of === 'counter' ? `over ${cycle} notes` : undefined),
    hidden: () => [],
    goesBothWays: ({ of }) => of === 'random',
  },
};

// A kind and a modulator of that kind, which the compiler can only follow by a type of their own.
const wordsBy = <K extends ModulatorKind>(kind: K, modulator: ModulatorOf<K>) => descriptors[kind].words(modulator);
const toldBy = <K extends ModulatorKind>(kind: K, modulator: ModulatorOf<K>) => descriptors[kind].told(modulator);
const hiddenBy = <K extends ModulatorKind>(kind: K, modulator: ModulatorOf<K>) => descriptors[kind].hidden(modulator);
const bothWaysBy = <K extends ModulatorKind>(kind: K, modulator: ModulatorOf<K>) =>
  descriptors[kind].goesBothWays(modulator);

export const modulatorWords = (modulator: Modulator): string => wordsBy(modulator.kind, modulator);
export const toldOfModulator = (modulator: Modulator): string | undefined => toldBy(modulator.kind, modulator);
/** What becomes of something that a modulator moves, once it does. */
export const heardOfModulator = ({ kind }: Modulator, what: string, amount: number): string =>
  descriptors[kind].heard(what, amount);
export const hiddenOfModulator = (modulator: Modulator): readonly string[] => hiddenBy(modulator.kind, modulator);
export const goesBothWays = (modulator: Modulator): boolean => bothWaysBy(modulator.kind, modulator);
