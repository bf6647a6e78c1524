import { filterSchema } from '../../patch/schemas/shapingSchema';
import { soundingSpan } from '../../reading/level/fittedContour';
import { type FilteredPair, fitFilteredPair } from '../../reading/partials/filteredPair';
import { OPEN_HZ } from '../../reading/spectra/filterTrack';
import { median } from '../../reading/statistics';
import { explainFilter } from './filter';
import { type Evidence, type Hypothesis, type Part, freedoms, short } from './hypothesis';
import { nameOf, offsetCents, sourceOf } from './sources';

/** What one filter over all sources leaves at least where there are two. */
const LEAST_LEFT_DB = 2.5;
/** Two leave so much less. */
const GAINED_SHARE = 0.4;
const MOST_LEFT_DB = 2;
/** Frames of four periods tell nothing of the first two. */
const BLIND_PERIODS = 2;
/** A sine so far under the sources' own first partial is none. */
const LEAST_SINE = 0.15;

/**
 * Two sources of which one stays bright while a filter closes over the other: each behind a filter of its
 * own. Several ways, since the first partial does not tell whether a sine is in it, with the source's own or
 * against it. Empty where one filter does as well.
 */
export function explainOwnFilters(evidence: Evidence): Hypothesis[][] {
  const { partials, filter, fitted, reading } = evidence.note;
  if (!partials || !filter || reading.notes.length !== 1 || filter.errorDb < LEAST_LEFT_DB) return [];
  // Partials of voices that beat go their own ways.
  if (reading.traits.unison.detuneCents !== null) return [];
  const [from, to] = soundingSpan(fitted, reading.durationSeconds);
  const pair = fitFilteredPair(partials, from + BLIND_PERIODS / partials.f0Hz, to);
  if (!pair || pair.errorDb > Math.min(MOST_LEFT_DB, GAINED_SHARE * filter.errorDb)) return [];
  const { there, made } = pair.first;
  const moving = explainFilter(followed(evidence, pair));
  // A low-pass and what moves it; without that one filter would do.
  if (moving.length < 2) return [];
  const filters = [...moving, ...standingFilter(pair, evidence)];
  const sines: (Sine | undefined)[] = [
    { peak: there + made, startPhaseCycles: 0.5 },
    { peak: there - made, startPhaseCycles: 0 },
  ].filter(({ peak }) => peak > LEAST_SINE);
  return [undefined, ...sines].map((sine) => [...sourcesOf(pair, sine, evidence), ...filters]);
}

/** A sine at the lowest partial, against the peak of the source whose filter moves. */
interface Sine {
  peak: number;
  startPhaseCycles: number;
}

/** The same evidence with the cutoff of the source whose filter moves. */
function followed(evidence: Evidence, { moving, cutoffHz }: FilteredPair): Evidence {
  const { note } = evidence;
  const { traits } = note.reading;
  const heard = [...cutoffHz].filter(Number.isFinite);
  const { slopeDbPerOctave, resonanceDb } = moving;
  const brightness = {
    ...traits.brightness,
    filterKind: 'lowpass' as const,
    cutoffHz: Math.round(median(heard)),
    slopeDbPerOctave,
    resonanceDb,
  };
  const filter = { ...note.filter!, cutoffHz, slopeDbPerOctave, resonanceDb };
  return { ...evidence, note: { ...note, filter, reading: { ...note.reading, traits: { ...traits, brightness } } } };
}

const partOf = (
  { shape, pulseWidth, multiple }: Pick<Part, 'shape' | 'pulseWidth'> & { multiple: number },
  levelDb: number,
  evidence: Evidence,
): Part => ({
  shape,
  pulseWidth,
  semitones: 12 * Math.log2(multiple / rootOf(evidence)),
  levelDb,
});

/** Which partial the note is named after. */
const rootOf = ({ note: { partials, reading } }: Evidence) =>
  Math.max(1, Math.round((reading.traits.pitch.f0Hz ?? partials!.f0Hz) / partials!.f0Hz));

/** Sources with levels against the loudest of them. */
function sourcesOf(pair: FilteredPair, sine: Sine | undefined, evidence: Evidence): Hypothesis[] {
  const sineDb = sine ? 20 * Math.log10(sine.peak) : -Infinity;
  const loudestDb = Math.max(0, pair.standingDb, sineDb);
  return [
    ...pairHypotheses(pair, loudestDb, evidence),
    ...(sine ? [sineHypothesis(sine, sineDb - loudestDb, pair, evidence)] : []),
  ];
}

const centsOf = ({ note, midi }: Evidence) => offsetCents(note.reading.traits.pitch, midi);

function pairHypotheses(pair: FilteredPair, loudestDb: number, evidence: Evidence): Hypothesis[] {
  const { moving, standing, standingDb, cycles, errorDb } = pair;
  const goesPast = standing.cutoffHz >= OPEN_HZ;
  return [
    { part: partOf(moving, -loudestDb, evidence), into: 'first', how: 'a filter moves over it alone' },
    {
      part: partOf(standing, standingDb - loudestDb, evidence),
      into: goesPast ? 'past' : 'second',
      how: 'it stays as bright as it is meanwhile',
    },
  ].map(({ part, into, how }, i) => {
    const id = `source-${i + 1}`;
    const name = nameOf(part);
    return {
      name,
      stage: 'sources',
      confidence: 0.7,
      why: `part of what adds up to the partials of all frames within ${short(errorDb)} dB; ${how}`,
      apply: (layer) => {
        const startPhaseCycles = i > 0 ? Math.round(100 * cycles) / 100 : 0;
        layer.sources.push(sourceOf(part, id, name, centsOf(evidence), { into, startPhaseCycles }));
        layer.filterOrder = 'parallel';
      },
      freedoms: [
        ...(i > 0 ? freedoms(id, 'sources', { levelDb: 0.03, startPhaseCycles: 0.1 }) : []),
        ...(part.shape === 'pulse' ? freedoms(id, 'sources', { pulseWidth: 0.03 }) : []),
      ],
      brings: i > 0 ? [id] : [],
    };
  });
}

function sineHypothesis(
  { startPhaseCycles }: Sine,
  levelDb: number,
  { moving }: FilteredPair,
  evidence: Evidence,
): Hypothesis {
  const part = partOf({ shape: 'sine', pulseWidth: null, multiple: 1 }, levelDb, evidence);
  const name = moving.multiple === 1 ? 'body sine' : nameOf(part);
  return {
    name,
    stage: 'sources',
    confidence: 0.4,
    why: 'the lowest partial is not as strong as the other sources make it',
    apply: (layer) => {
      layer.sources.push(sourceOf(part, 'source-3', name, centsOf(evidence), { into: 'past', startPhaseCycles }));
    },
    freedoms: freedoms('source-3', 'sources', { levelDb: 0.03, startPhaseCycles: 0.1 }),
    brings: ['source-3'],
  };
}

function standingFilter({ standing, standingDb }: FilteredPair, evidence: Evidence): Hypothesis[] {
  const { cutoffHz, slopeDbPerOctave, resonanceDb } = standing;
  if (cutoffHz >= OPEN_HZ) return [];
  return [
    {
      name: 'low-pass that stands still',
      stage: 'filter',
      confidence: 0.7,
      why: `partials of the ${nameOf(partOf(standing, standingDb, evidence))} fall off over ${short(cutoffHz)} Hz in all frames alike`,
      apply: (layer) => {
        layer.filters[1] = filterSchema.parse({
          kind: 'lowpass',
          id: 'filter-2',
          cutoffHz: Math.max(20, Math.round(cutoffHz)),
          slopeDbPerOctave,
          resonanceDb: Math.round(10 * resonanceDb) / 10,
        });
      },
      freedoms: freedoms('filter-2', 'filter', { cutoffHz: 0.04, resonanceDb: 0.04 }),
      brings: ['filter-2'],
    },
  ];
}
