import { divisions } from '../division';

/** A point of a drawn line. */
export interface Point {
  x: number;
  y: number;
}

/** One of a few words; the titles' names are what stands in the patch. */
export interface OneOf<N extends string = string> {
  of: 'oneOf';
  label: string;
  titles: Readonly<Record<N, string>>;
  default: N;
}

/** Something that is so or not. */
export interface Switch {
  of: 'switch';
  label: string;
  default: boolean;
}

/** A length in musical time. */
export interface Division {
  of: 'division';
  label: string;
  default: string;
}

/** A length in musical time in place of a number, or null for the number. */
export interface OptionalDivision {
  of: 'optionalDivision';
  label: string;
  /** What is said where the number counts: `in seconds`. */
  free: string;
}

/** Another layer, or null for none. */
export interface OtherLayer {
  of: 'layer';
  label: string;
  none: string;
}

/** A sample of the patch, or null for none. */
export interface PlayedSample {
  of: 'sample';
  label: string;
}

/** A line drawn from left to right, straight between its points. */
export interface Line {
  of: 'line';
  label: string;
  x: readonly [number, number];
  y: readonly [number, number];
  default: readonly Point[];
}

/** Steps that are struck or not. */
export interface Pattern {
  of: 'pattern';
  label: string;
  default: readonly boolean[];
}

/** Kinds and slopes of an equaliser's bands. */
export interface Bands {
  of: 'bands';
  label: string;
  count: number;
}

export type Choice = OneOf | Switch | Division | OptionalDivision | OtherLayer | PlayedSample | Line | Pattern | Bands;

export const oneOf = <N extends string>(
  label: string,
  titles: Readonly<Record<N, string>>,
  initial: NoInfer<N>,
): OneOf<N> => ({ of: 'oneOf', label, titles, default: initial });

export const switched = (label: string, initial = false): Switch => ({ of: 'switch', label, default: initial });

export const inDivision = (label: string, initial: string): Division => ({ of: 'division', label, default: initial });

export const inDivisionOr = (label: string, free: string): OptionalDivision => ({
  of: 'optionalDivision',
  label,
  free,
});

export const otherLayer = (label: string, none: string): OtherLayer => ({ of: 'layer', label, none });

export const line = (label: string, x: Line['x'], y: Line['y'], initial: readonly Point[]): Line => ({
  of: 'line',
  label,
  x,
  y,
  default: initial,
});

/** Titles of divisions, which are called what they are. */
export const divisionTitles: Readonly<Record<string, string>> = Object.fromEntries(
  divisions.map((division) => [division, division]),
);

export const bandTitles = {
  off: 'off',
  lowCut: 'low cut',
  highCut: 'high cut',
  lowShelf: 'low shelf',
  highShelf: 'high shelf',
  bell: 'bell',
  notch: 'notch',
  tilt: 'tilt',
} as const;

export type BandKind = keyof typeof bandTitles;
export const cutSlopes = [6, 12, 18, 24, 36, 48] as const;

export interface Band {
  kind: BandKind;
  /** Of cuts. */
  slopeDbPerOctave: (typeof cutSlopes)[number];
}

/** What stands in a patch for a choice. */
export type ChoiceValue<C extends Choice> =
  C extends OneOf<infer N>
    ? N
    : C extends Switch
      ? boolean
      : C extends Division
        ? string
        : C extends OptionalDivision | OtherLayer | PlayedSample
          ? string | null
          : C extends Line
            ? Point[]
            : C extends Pattern
              ? boolean[]
              : C extends Bands
                ? Band[]
                : never;
