import { MAX_UNISON } from '../../engine/sources/unison';
import type { Source } from '../../patch/schema';
import { sourceSchema } from '../../patch/schemas/sourceSchema';
import { SURE_VOICES } from '../../reading/movement/unison';
import type { Reading } from '../../reading/schema';
import { beginningsOf } from './startPhases';
import { type Explainer, type Freedom, type Hypothesis, type Part, freedoms, short } from './hypothesis';

/** A source further down than this against the loudest is no source. */
const FAINTEST_DB = -36;
/** A sine so far under the root is a sub. */
const SUB_SEMITONES = -12;

/** Plain waveforms that add up to the partials. */
export const explainSources: Explainer = (evidence) => {
  const { note, midi } = evidence;
  const { sources, partials, pitch, unison, fm } = note.reading.traits;
  if (fm.carrierHz !== null) return [];
  const parts: Part[] =
    sources.parts.length > 0
      ? sources.parts.filter(({ levelDb }) => levelDb >= FAINTEST_DB)
      : [
          {
            shape: partials.nearestShape ?? 'saw',
            pulseWidth: partials.pulseWidth,
            semitones: 0,
            levelDb: 0,
          },
        ];
  const cents = offsetCents(pitch, midi);
  const alone = parts.length === 1;
  const isSpread = parts.some((part) => spreads(part) && 'unisonVoices' in spreadOf(unison));
  const beginnings = isSpread ? [] : beginningsOf(parts, evidence);
  const error = sources.errorDb === null ? '' : ` within ${short(sources.errorDb)} dB`;
  return parts.map((part, i): Hypothesis => {
    const id = `source-${i + 1}`;
    const name = nameOf(part);
    const interval = part.semitones === 0 ? '' : ` at ${part.semitones > 0 ? '+' : ''}${part.semitones} st`;
    const spread = spreads(part) ? spreadOf(unison) : {};
    return {
      name,
      stage: 'sources',
      confidence: alone ? 1 : sources.confidence,
      why: alone
        ? `the partials are those of a ${part.shape}${error}`
        : `a ${part.shape}${interval}, ${short(part.levelDb)} dB against the loudest, is part of what adds up to the partials${error}`,
      apply: (layer) => {
        const { startPhaseCycles, louderDb } = beginnings[i] ?? { startPhaseCycles: 0, louderDb: 0 };
        const louder = { ...part, levelDb: part.levelDb + louderDb };
        layer.sources.push(sourceOf(louder, id, name, cents, { ...spread, startPhaseCycles }));
      },
      freedoms: [
        ...freedomsOf(part, id, alone, 'unisonVoices' in spread && unison.confidence < MEASURED),
        // Where partials of two meet, it matters how their periods stand to one another.
        ...(i > 0 && !('unisonVoices' in spread) ? freedoms(id, 'sources', { startPhaseCycles: 0.2 }) : []),
      ],
      brings: i === 0 ? [] : [id],
    };
  });
};

type Pitch = Reading['traits']['pitch'];
type Unison = Reading['traits']['unison'];

/** How far the tone is from the tempered note, cents. */
export const offsetCents = ({ f0Hz }: Pitch, midi: number) =>
  f0Hz === null ? 0 : Math.max(-100, Math.min(100, 100 * (69 + 12 * Math.log2(f0Hz / 440) - midi)));

export function nameOf({ shape, semitones }: Part): string {
  if (shape === 'sine' && semitones <= SUB_SEMITONES) return 'sub sine';
  if (semitones === 0) return shape;
  if (semitones % 12 === 0) {
    const octaves = Math.abs(semitones) / 12;
    return `${shape} ${octaves === 1 ? 'an octave' : `${octaves} octaves`} ${semitones > 0 ? 'up' : 'down'}`;
  }
  return `${shape} at ${semitones > 0 ? '+' : ''}${short(semitones)} st`;
}

/** Subs and lone sines are played by one voice. */
const spreads = ({ shape, semitones }: Part) => shape !== 'sine' || semitones > 0;

/** Lines of voices that were told apart say more of their spread than their beating does. */
const MEASURED = 0.8;

/** Voices that a source is given; as few as can be where they were not counted. */
export const voiceCount = (voices: Unison['voices']) => Math.max(2, Math.min(MAX_UNISON, voices ?? 2));

function spreadOf({ voices, detuneCents, confidence }: Unison) {
  if (detuneCents === null || confidence < SURE_VOICES) return {};
  return {
    unisonVoices: voiceCount(voices),
    unisonDetuneCents: Math.max(0.1, Math.round(10 * detuneCents) / 10),
    startPhaseRandom: 100,
  };
}

export function sourceOf(
  { shape, pulseWidth, semitones, levelDb }: Part,
  id: string,
  name: string,
  cents: number,
  others: object,
): Source {
  const whole = Math.round(semitones);
  return sourceSchema.parse({
    kind: 'shape',
    id,
    name,
    shape: shape === 'square' ? 'pulse' : shape,
    pulseWidth: shape === 'pulse' && pulseWidth !== null ? Math.min(99, Math.max(1, percent(pulseWidth))) : 50,
    semitones: whole,
    cents: Math.max(-100, Math.min(100, Math.round(10 * (cents + 100 * (semitones - whole))) / 10)),
    levelDb: Math.round(10 * Math.max(-48, levelDb)) / 10,
    ...others,
  });
}

/** Widths are told as a share or in per cent. */
const percent = (width: number) => (width <= 1 ? 100 * width : width);

function freedomsOf({ shape }: Part, id: string, alone: boolean, spreadIsOpen: boolean): Freedom[] {
  return [
    ...(alone ? [] : freedoms(id, 'sources', { levelDb: 0.03 })),
    ...(shape === 'pulse' ? freedoms(id, 'sources', { pulseWidth: 0.03 }) : []),
    ...(spreadIsOpen ? freedoms(id, 'movement', { unisonDetuneCents: 0.03 }) : []),
  ];
}
