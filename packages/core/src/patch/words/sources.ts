import type { Patch, Source, SourceKind } from '../schema';

/**
 * What sources are called and what of them counts, by kind: strip, editor and recipe are made of this table.
 */

type SourceOf<K extends SourceKind> = Extract<Source, { kind: K }>;

interface SourceDescriptor<K extends SourceKind> {
  title: string;
  /** What it is for, in a few words. */
  purpose: string;
  /** What it sounds like alone. */
  heard(source: SourceOf<K>): string;
  /** What it plays, where that has a name. */
  plays(source: SourceOf<K>, patch: Patch | undefined): string | undefined;
  /** What it is besides numbers, in words. */
  told(source: SourceOf<K>): readonly string[];
  /** Numbers that mean nothing as it is set. */
  hidden(source: SourceOf<K>): readonly string[];
}

/** What shapes sound like alone. */
const shapeHeard = {
  sine: 'one pure tone',
  triangle: 'a soft, slightly hollow tone',
  saw: 'a bright, buzzing tone',
  pulse: 'a hollow tone, thinner and more nasal the narrower it is',
} as const;

const shapeTitles = { sine: 'Sine', triangle: 'Triangle', saw: 'Saw', pulse: 'Pulse' } as const;

type Tuned = Exclude<Source, { kind: 'noise' }>;
type Periodic = Exclude<Tuned, { kind: 'sample' }>;

export const phaseShapeTitles = {
  none: 'as it is',
  crowded: 'one half crowded',
  leaning: 'leaning',
  hardSync: 'hard sync',
  hardSyncFaded: 'hard sync, faded',
  thereAndBack: 'there and back',
  stairs: 'stairs',
  drawnTime: 'drawn time',
} as const satisfies Record<Periodic['phaseShape'], string>;

/** The number that does most for a phase shape; none where nothing is shaped. */
const phaseNumbers = {
  none: undefined,
  crowded: 'phaseAmount',
  leaning: 'phaseAmount',
  hardSync: 'syncSemitones',
  hardSyncFaded: 'syncSemitones',
  thereAndBack: 'phaseAmount',
  stairs: 'phaseAmount',
  drawnTime: 'phaseAmount',
} as const satisfies Record<Periodic['phaseShape'], string | undefined>;

/**
 * Fields of a source whose phase is shaped otherwise: where the new shape would do nothing yet, it is heard
 * halfway.
 */
export const withPhaseShape = (source: Periodic, phaseShape: Periodic['phaseShape']) => ({
  phaseShape,
  ...(phaseNumbers[phaseShape] === 'phaseAmount' && source.phaseAmount === 0 ? { phaseAmount: 50 } : {}),
});

export const destinationTitles = {
  first: 'first filter',
  second: 'second filter',
  both: 'both filters',
  past: 'past the filters',
} as const satisfies Record<Source['into'], string>;

export const tuningTitles = {
  note: 'steps from the note',
  ratio: 'ratio to the note',
  fixed: 'fixed, no key tracking',
} as const satisfies Record<Tuned['tuning'], string>;

function hiddenOfTuning({ tuning, unisonVoices }: Tuned): string[] {
  return [
    ...(tuning === 'fixed' ? [] : ['fixedHz']),
    ...(tuning === 'ratio' ? [] : ['ratio']),
    ...(tuning === 'note' ? [] : ['octaves']),
    ...(unisonVoices > 1 ? [] : ['unisonDetuneCents', 'unisonSpacing', 'unisonBalance', 'unisonSpread']),
  ];
}

function hiddenOfPhase({ phaseShape }: Periodic): string[] {
  const number = phaseNumbers[phaseShape];
  return [
    ...(['phaseAmount', 'syncSemitones'] as const).filter((name) => name !== number),
    ...(phaseShape === 'stairs' ? [] : ['phaseSteps']),
  ];
}

const toldOfTuning = ({ tuning }: Tuned) => (tuning === 'note' ? [] : [`tuned by ${tuningTitles[tuning]}`]);

const toldOfPhase = ({ phaseShape }: Periodic) =>
  phaseShape === 'none' ? [] : [`time within the period: ${phaseShapeTitles[phaseShape]}`];

const descriptors: { readonly [K in SourceKind]: SourceDescriptor<K> } = {
  shape: {
    title: 'Shape',
    purpose: 'band-limited at every pitch',
    heard: ({ shape }) => shapeHeard[shape],
    plays: ({ shape }) => shapeTitles[shape],
    told: (source) => [...toldOfTuning(source), ...toldOfPhase(source)],
    hidden: (source) => [
      ...hiddenOfTuning(source),
      ...hiddenOfPhase(source),
      ...(source.shape === 'pulse' ? ['morph'] : source.shape === 'saw' && source.morph > 0 ? [] : ['pulseWidth']),
    ],
  },
  wavetable: {
    title: 'Wavetable',
    purpose: 'frames of one period, blended by position',
    heard: () => 'the colour of the table, which its position changes',
    plays: ({ wavetableId }, patch) => patch?.wavetables.find(({ id }) => id === wavetableId)?.name,
    told: (source) => [...toldOfTuning(source), ...toldOfPhase(source)],
    hidden: (source) => [...hiddenOfTuning(source), ...hiddenOfPhase(source)],
  },
  partials: {
    title: 'Partials',
    purpose: 'every partial by hand',
    heard: () => 'the colour that its partials add up to',
    plays: () => undefined,
    told: (source) => [...toldOfTuning(source), ...toldOfPhase(source), `${source.levelsDb.length} partials drawn`],
    hidden: (source) => [...hiddenOfTuning(source), ...hiddenOfPhase(source)],
  },
  noise: {
    title: 'Noise',
    purpose: 'from white to brown, within its own band',
    heard: ({ slopeDbPerOctave }) => (slopeDbPerOctave < -2 ? 'a soft rush' : 'hiss'),
    plays: () => undefined,
    told: ({ restart }) => (restart === 'note' ? ['the same for every note'] : []),
    hidden: () => [],
  },
  sample: {
    title: 'Sample',
    purpose: 'a recorded sound, played at the pitch of the key',
    heard: () => 'the recorded sound at the pitch of the note',
    plays: ({ sampleId }, patch) => patch?.samples.find(({ id }) => id === sampleId)?.name,
    told: (source) => [
      ...toldOfTuning(source),
      ...(source.loop ? ['looped'] : []),
      ...(source.reverse ? ['backwards'] : []),
    ],
    hidden: (source) => [
      ...hiddenOfTuning(source),
      ...(source.loop ? [] : ['loopStartSeconds', 'loopEndSeconds', 'crossfadeSeconds']),
    ],
  },
};

// A kind and a source of that kind, which the compiler can only follow by a type of their own.
const playsBy = <K extends SourceKind>(kind: K, source: SourceOf<K>, patch: Patch | undefined) =>
  descriptors[kind].plays(source, patch);
const toldBy = <K extends SourceKind>(kind: K, source: SourceOf<K>) => descriptors[kind].told(source);
const hiddenBy = <K extends SourceKind>(kind: K, source: SourceOf<K>) => descriptors[kind].hidden(source);

const heardBy = <K extends SourceKind>(kind: K, source: SourceOf<K>) => descriptors[kind].heard(source);

export const sourceKindTitle = (kind: SourceKind): string => descriptors[kind].title;
export const purposeOfSource = ({ kind }: Source): string => descriptors[kind].purpose;

/** A source that is so soft is there to move others. */
const UNHEARD_DB = -90;

/** What is to be heard of a source once it is on. */
export function heardOfSource(source: Source): string {
  if (source.levelDb <= UNHEARD_DB) return 'nothing yet: it is heard in what it moves';
  const voices = 'unisonVoices' in source && source.unisonVoices > 1 ? ', beating slowly, as of several players' : '';
  return `${heardBy(source.kind, source)}${voices}`;
}

/** What a source is called without a name of its own: after what it plays, or its kind. */
export const plainSourceTitle = (source: Source, patch?: Patch): string =>
  playsBy(source.kind, source, patch) ?? descriptors[source.kind].title;

/** What a source is besides numbers, in words, with where it goes unless that is the first filter. */
export const toldOfSource = (source: Source): string[] => [
  ...toldBy(source.kind, source),
  ...(source.into === 'first' ? [] : [`into ${destinationTitles[source.into]}`]),
];

/** Numbers that mean nothing as a source is set. */
export const hiddenOfSource = (source: Source): readonly string[] => hiddenBy(source.kind, source);
