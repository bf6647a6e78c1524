import type { Parameter } from '../parameter';
import type { Choice, ChoiceValue } from './choices';

export type Parameters = Readonly<Record<string, Parameter>>;
export type Choices = Readonly<Record<string, Choice>>;

/** An effect as it stands in a patch, by what its kind can be set to. */
export type EffectSettings<P extends Parameters, C extends Choices> = { readonly [N in keyof P]: number } & {
  readonly [N in keyof C]: ChoiceValue<C[N]>;
};

/**
 * All that the rest of the program knows about a kind of effect but for how it sounds. Schema, editor, strip
 * and recipe are made of it.
 */
export interface EffectDescriptor<K extends string, P extends Parameters, C extends Choices> {
  kind: K;
  title: string;
  /** What it is for, in a few words. */
  purpose: string;
  /** What is to be heard once it is on. */
  heard: string;
  parameters: P;
  /** What it can be told besides numbers, in the order in which it is shown. */
  choices: C;
  /** Names of parameters and choices that mean nothing as it is set. */
  hidden(effect: EffectSettings<P, C>): readonly (keyof P | keyof C)[];
  /** What it is set to, in a few words. */
  detail(effect: EffectSettings<P, C>): string;
}

type Given<K extends string, P extends Parameters, C extends Choices> = Omit<
  EffectDescriptor<K, P, C>,
  'choices' | 'hidden'
> & { choices?: C; hidden?: EffectDescriptor<K, P, C>['hidden'] };

/** Checks a descriptor, and fills in what few kinds have. */
export const defineEffect = <const K extends string, P extends Parameters, C extends Choices = Record<never, never>>(
  given: Given<K, P, C>,
): EffectDescriptor<K, P, C> => ({
  choices: {} as C,
  hidden: () => [],
  ...given,
});
