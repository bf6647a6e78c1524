import { decibelsFromGain } from '../dsp/decibels';
import { midiFromHz } from '../dsp/pitch';
import { compileEnvelope, envelopeValue } from '../patch/envelopeCurve';
import { type PhraseNote, renderPatch } from '../engine/render';
import { atTrackTempo } from '../patch/tempo';
import { defaultEnvelope, emptyLayer, emptyPatch } from '../patch/defaults';
import { type Contour, type Envelope, type Layer, type Patch, type Route } from '../patch/schema';
import { filterSchema } from '../patch/schemas/shapingSchema';
import { sourceSchema } from '../patch/schemas/sourceSchema';
import { wavetableFromSamples } from '../patch/contents/wavetableFrames';
import type { Audio } from '../reading/audio';
import { lowpassAttenuationDb } from '../reading/spectra/filterTrack';
import { fitContour } from '../reading/level/fitContour';
import { soundingSpan } from '../reading/level/fittedContour';
import type { Measurement } from '../reading/read';
import { measureWidth } from '../reading/space/width';
import { heardLoudness } from '../reading/level/heardLoudness';
import type { Reading } from '../reading/schema';
import type { CutEvidence } from './evidence';
import { type FilterContour, envelopeFrom, filterContour } from './filterContour';
import { matchLoudness } from './loudness';
import { preparedOf } from './prepared';
import { explainSpace } from './explain/space';
import { extractWavetable, quietestPhase } from './wavetableExtraction';

/**
 * The copy of a tone: a wavetable taken along the note, its position as a contour, the fitted level contour
 * as amp envelope, the moving cutoff as filter envelope, and what is left of level and pitch as contours.
 */
export function copyPatch(evidence: CutEvidence, audio: Audio, name: string): Patch {
  const { note, notes, reading, bpm } = evidence;
  const patch = patchFromNote(withSpace(note), name);
  if (isRoomMade(note)) for (const { apply } of explainSpace(evidence)) apply(patch.layers[0], patch);
  const inTime = atTrackTempo(patch, bpm);
  matchWidth(inTime, notes, reading);
  matchLoudness(inTime, notes, audio, heardLoudness(reading));
  return inTime;
}

/** Of detuned voices no level is drawn, in which their room could be. */
const isRoomMade = (note: Measurement) =>
  note.reading.traits.space.rt60Seconds !== null && unisonOf(note) !== undefined;

/** A note with the level that is heard, where its space is in the copy's contours and not in a chain. */
function withSpace(note: Measurement): Measurement {
  const { echo, rt60Seconds } = note.reading.traits.space;
  if (echo) return { ...note, fitted: fitContour(note.level) };
  if (rt60Seconds === null || isRoomMade(note)) return note;
  // It is let go where the tone is, and falls on as its room does.
  const isLetGo = note.fitted.noteOffSeconds !== null;
  const fitted = isLetGo ? { ...note.fitted, releaseSeconds: rt60Seconds } : fitContour(note.level, true);
  return { ...note, fitted };
}

const ATTACK_PERIODS = 0.12;

function patchFromNote(note: Measurement, name: string): Patch {
  const { fundamental, fitted, partials } = note;
  if (!fundamental || !partials) throw new Error('No pitch was found in this cut.');
  const layer: Layer = { ...emptyLayer(), name: 'Tone', levelDb: 0, modulators: [], routes: [] };
  layer.amp = envelopeFrom('amp', 'Amp contour', fitted);
  // Within a fraction of a period a level cannot be told from the waveform, and a shorter attack would only
  // click.
  layer.amp.attackSeconds = Math.max(layer.amp.attackSeconds, Math.min(0.004, ATTACK_PERIODS / fundamental.f0Hz));

  const filter = filterContour(note);
  const { slopeDbPerOctave, resonanceDb } = note.filter ?? { slopeDbPerOctave: 24 as const, resonanceDb: 0 };
  layer.filters[0] = filterSchema.parse({
    kind: 'lowpass',
    id: 'filter-1',
    on: filter !== undefined,
    slopeDbPerOctave,
    resonanceDb: filter ? Math.round(10 * resonanceDb) / 10 : 0,
    cutoffHz: filter?.restHz ?? 20000,
  });
  const filterEnvelope = filter?.envelope ?? defaultEnvelope('filter-contour', 'Filter contour');
  addRoute(layer, filterEnvelope, 'filter-1', 'cutoffHz', filter?.semitones ?? 0);

  const cutoffAt = filter ? cutoffOf(filter) : undefined;
  const voices = unisonOf(note);
  const { samples, positions } = extractWavetable(
    note,
    (hz, seconds) => (cutoffAt ? lowpassAttenuationDb(slopeDbPerOctave, hz / cutoffAt(seconds), resonanceDb) : 0),
    voices ? BEATS_AVERAGED_SECONDS : 0,
  );
  // The table holds a period of the whole, which may be another than that of the note: over a sub, an octave.
  const [played] = note.reading.notes;
  const lattice = midiFromHz(fundamental.f0Hz);
  const offset = lattice - (note.reading.notes.length === 1 ? played.midi : Math.round(lattice));
  const semitones = Math.round(offset);
  layer.sources = [
    sourceSchema.parse({
      kind: 'wavetable',
      id: 'source-1',
      wavetableId: 'table-1',
      startPhaseCycles: quietestPhase(samples),
      semitones,
      cents: Math.round((offset - semitones) * 1000) / 10,
      ...voices,
    }),
  ];
  addRoute(layer, contour('position', 'Table position', positions), 'source-1', 'position', 100);
  // Detuned voices beat by themselves.
  if (!voices) addLevelDetail(layer, note);
  addPitchContour(layer, note);
  return {
    ...emptyPatch(name),
    layers: [layer],
    wavetables: [wavetableFromSamples('table-1', 'From the cut', samples)],
  };
}

/**
 * Voices are set when their number was told this surely, and there are so many: the beating of two is a
 * contour that can be copied, that of more is never the same twice.
 */
const SURE_VOICES = 0.75;
const FEWEST_VOICES = 3;
/** Long enough for most partials of detuned voices to have come round. */
const BEATS_AVERAGED_SECONDS = 1.5;

/** The unison voices of a note, where they were counted. */
function unisonOf({ reading }: Measurement) {
  const { voices, detuneCents, confidence } = reading.traits.unison;
  if (voices === null || voices < FEWEST_VOICES || detuneCents === null || confidence < SURE_VOICES) return undefined;
  return { unisonVoices: voices, unisonDetuneCents: Math.round(10 * detuneCents) / 10 };
}

/** Cutoff in Hz at a time since the onset, as the patch will play it. */
function cutoffOf({ envelope, restHz, semitones, noteOffSeconds }: FilterContour): (seconds: number) => number {
  const program = compileEnvelope(envelope);
  return (seconds) =>
    Math.min(20000, restHz * 2 ** ((semitones * envelopeValue(program, seconds, noteOffSeconds)) / 12));
}

type Point = Contour['points'][number];

const contour = (id: string, name: string, points: Point[]): Contour => ({ kind: 'contour', id, name, points });

function addRoute(
  layer: Layer,
  modulator: Envelope | Contour,
  moduleId: string,
  parameter: string,
  amount: number,
): void {
  const route: Route = {
    id: `route-${modulator.id}`,
    on: true,
    from: modulator.id,
    to: { moduleId, parameter },
    amount,
    polarity: modulator.kind === 'contour' ? 'bipolar' : 'unipolar',
  };
  layer.modulators.push(modulator);
  layer.routes.push(route);
}

const DETAIL_POINTS = 256;
const DETAIL_LIMIT_DB = 12;
const MIN_DETAIL_DB = 0.7;

/** What the fitted envelope leaves of the level: beating, tremolo, echoes. */
function addLevelDetail(layer: Layer, { level, fitted, reading }: Measurement): void {
  const program = compileEnvelope(layer.amp);
  const off = fitted.noteOffSeconds ?? Infinity;
  const end = Math.min(reading.durationSeconds, off + (fitted.releaseSeconds ?? 0)) - fitted.onsetSeconds;
  const from = fitted.attackSeconds + level.windowSeconds;
  if (end - from < 0.1) return;
  const points: Point[] = [{ seconds: 0, value: 0 }];
  let squares = 0;
  for (let i = 0; i < DETAIL_POINTS; i++) {
    const seconds = from + ((end - from) * i) / (DETAIL_POINTS - 1);
    const at = fitted.onsetSeconds + seconds;
    const measured = decibelsFromGain(level.rms[Math.round(at / level.hopSeconds)] / fitted.fullRms);
    const modelled = decibelsFromGain(envelopeValue(program, seconds, off - fitted.onsetSeconds));
    // Deep in the release both are noise.
    const detail = measured < -50 || modelled < -50 ? 0 : measured - modelled;
    const limited = Math.max(-DETAIL_LIMIT_DB, Math.min(DETAIL_LIMIT_DB, detail));
    squares += limited * limited;
    points.push({ seconds, value: limited / DETAIL_LIMIT_DB });
  }
  if (Math.sqrt(squares / DETAIL_POINTS) < MIN_DETAIL_DB) return;
  addRoute(layer, contour('level-detail', 'Level detail', points), 'source-1', 'levelDb', DETAIL_LIMIT_DB);
}

const PITCH_LIMIT_SEMITONES = 2;
const MIN_PITCH_CENTS = 8;

/** The pitch's own movement around the fundamental: vibrato, drift, a glide in. */
function addPitchContour(layer: Layer, { reading, fundamental, fitted }: Measurement): void {
  const { hopSeconds, values } = reading.traits.pitch.contour;
  const [from, to] = soundingSpan(fitted, reading.durationSeconds);
  const points: Point[] = [];
  let squares = 0;
  values.forEach((hz, i) => {
    const seconds = i * hopSeconds - fitted.onsetSeconds;
    if (hz === null || !fundamental || seconds < 0 || i * hopSeconds < from || i * hopSeconds > to) return;
    const semitones = 12 * Math.log2(hz / fundamental.f0Hz);
    if (Math.abs(semitones) > PITCH_LIMIT_SEMITONES) return;
    squares += semitones * semitones;
    points.push({ seconds, value: semitones / PITCH_LIMIT_SEMITONES });
  });
  if (points.length < 4 || 100 * Math.sqrt(squares / points.length) < MIN_PITCH_CENTS) return;
  const step = Math.ceil(points.length / 500);
  const kept = points.filter((_, i) => i % step === 0);
  addRoute(layer, contour('pitch', 'Pitch', kept), 'source-1', 'semitones', PITCH_LIMIT_SEMITONES);
}

/** Prints that a stereo spread is tried by, each of so long. */
const SPREAD_TRIES = 4;
const SPREAD_SECONDS = 1;

/** Sets the stereo spread of unison voices so that a print is as wide as the cut, by halving. */
function matchWidth(patch: Patch, notes: PhraseNote[], reading: Reading): void {
  const [source] = patch.layers[0].sources;
  const wanted = widestDb(reading.traits.width);
  if (!('unisonVoices' in source) || source.unisonVoices < 2 || wanted === undefined) return;
  const [note] = notes;
  let [low, high] = [0, 100];
  for (let turn = 0; turn < SPREAD_TRIES; turn++) {
    source.unisonSpread = (low + high) / 2;
    const { sampleRateHz } = reading;
    const channels = renderPatch({
      patch,
      notes: [{ ...note, onsetSeconds: 0 }],
      sampleRateHz,
      seconds: SPREAD_SECONDS,
      resources: preparedOf(patch),
    });
    const own = widestDb(measureWidth({ channels, sampleRateHz }, 0, SPREAD_SECONDS));
    if ((own ?? -Infinity) < wanted) low = source.unisonSpread;
    else high = source.unisonSpread;
  }
  source.unisonSpread = Math.round((low + high) / 2);
}

const widestDb = ({ bands }: Reading['traits']['width']) =>
  bands.length > 0 ? Math.max(...bands.map(({ widthDb }) => widthDb)) : undefined;
