import type { Band, Choice, Point } from '../../parameters/effects/choices';
import { bandTitles } from '../../parameters/effects/choices';
import { type EffectKind, effects } from '../../parameters/effects';
import { numbersOfBand } from '../../parameters/effects/equalizer';
import { formatParameter, formatValue } from '../../parameters/format';
import { parametersOf } from '../../parameters/table';
import type { Effect, Patch } from '../schema';

export type EffectOf<K extends EffectKind> = Extract<Effect, { kind: K }>;

/** What the descriptors can be asked about an effect of their kind. */
type Descriptors = {
  readonly [K in EffectKind]: {
    readonly choices: Readonly<Record<string, Choice>>;
    hidden(effect: EffectOf<K>): readonly string[];
    detail(effect: EffectOf<K>): string;
  };
};

const descriptors: Descriptors = effects;

// A kind and an effect of that kind, which the compiler can only follow by a type of their own.
const hiddenBy = <K extends EffectKind>(kind: K, effect: EffectOf<K>) => descriptors[kind].hidden(effect);
const detailBy = <K extends EffectKind>(kind: K, effect: EffectOf<K>) => descriptors[kind].detail(effect);

export const effectTitles = Object.fromEntries(
  Object.entries(effects).map(([kind, { title }]) => [kind, title]),
) as Readonly<Record<EffectKind, string>>;

/** What is to be heard once an effect is on. */
export const heardOfEffect = ({ kind }: Effect): string => effects[kind].heard;

/** What an effect is set to, in a few words. */
export const effectDetail = (effect: Effect): string => detailBy(effect.kind, effect);

/** Names of numbers and choices that mean nothing as an effect is set. */
export const hiddenOfEffect = (effect: Effect): ReadonlySet<string> => new Set(hiddenBy(effect.kind, effect));

/** Choices of an effect by their names in the patch, but those that mean nothing as it is set. */
export function choicesOfEffect(effect: Effect): [name: string, choice: Choice, value: unknown][] {
  const hidden = hiddenOfEffect(effect);
  const values: Readonly<Record<string, unknown>> = effect;
  return Object.entries(descriptors[effect.kind].choices)
    .filter(([name]) => !hidden.has(name))
    .map(([name, choice]) => [name, choice, values[name]]);
}

/** An effect written out with all its choices and numbers, in real units. */
export function effectWords(effect: Effect, patch: Patch): string {
  const choices = choicesOfEffect(effect).flatMap(([, choice, value]) => wordsOfChoice(choice, value, effect, patch));
  const hidden = hiddenOfEffect(effect);
  const ofBands =
    effect.kind === 'equalizer' ? new Set<string>(effect.bands.flatMap((_, i) => numbersOfBand(i))) : null;
  const values: Readonly<Record<string, unknown>> = effect;
  const numbers = Object.entries(parametersOf(effect.kind))
    .filter(([name]) => !hidden.has(name) && !ofBands?.has(name))
    .map(
      ([name, parameter]) => `${parameter.label.toLowerCase()} ${formatParameter(parameter, values[name] as number)}`,
    );
  const named = effect.name === undefined ? '' : `“${effect.name}”, `;
  return `${named}${effectTitles[effect.kind]}: ${[...choices, ...numbers].join(', ')}`;
}

function wordsOfChoice(choice: Choice, value: unknown, effect: Effect, patch: Patch): string[] {
  const label = choice.label.toLowerCase();
  switch (choice.of) {
    case 'oneOf':
      return [`${label} ${choice.titles[value as string]}`];
    case 'switch':
      return value ? [label] : [];
    case 'division':
    case 'optionalDivision':
      return value === null ? [] : [`${label} ${value as string}`];
    case 'layer': {
      const layer = patch.layers.find(({ id }) => id === value);
      return layer ? [`${label} “${layer.name}”`] : [];
    }
    case 'sample': {
      const sample = patch.samples.find(({ id }) => id === value);
      return sample ? [`${label} “${sample.name}”`] : [];
    }
    case 'line':
      return [`${label} ${(value as Point[]).map(({ x, y }) => `${plain(x)} → ${plain(y)}`).join('; ')}`];
    case 'pattern':
      return [`${label} ${(value as boolean[]).flatMap((struck, i) => (struck ? [i + 1] : [])).join(' ')}`];
    case 'bands':
      return (value as Band[]).flatMap((band, i) => wordsOfBand(band, i, effect));
  }
}

function wordsOfBand({ kind, slopeDbPerOctave }: Band, index: number, effect: Effect): string[] {
  if (kind === 'off') return [];
  const values: Readonly<Record<string, unknown>> = effect;
  const [hz, gainDb, q] = numbersOfBand(index).map((name) => values[name] as number);
  const isCut = kind === 'lowCut' || kind === 'highCut';
  const amount = isCut ? `${slopeDbPerOctave} dB per octave` : kind === 'notch' ? '' : formatValue(gainDb, 'dB');
  return [
    [bandTitles[kind], `at ${formatValue(hz, 'Hz')}`, amount, `Q ${formatValue(q, '')}`].filter(Boolean).join(' '),
  ];
}

const plain = (x: number) => Number(x.toFixed(3)).toString().replace('-', '−');
