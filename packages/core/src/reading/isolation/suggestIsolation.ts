import { hzFromMidi } from '../../dsp/pitch';
import { runningMedian } from '../../dsp/runningMedian';
import { analyseStft, frameMiddle } from '../../dsp/stft';
import { type Audio, durationOf, sliceAudio, toMono } from '../audio';
import { findOnsets } from '../notes/onsets';
import type { Reading, ReadingNote } from '../schema';
import { combOf } from './partialMask';
import { type Isolation, NO_ISOLATION } from './settings';
import { steadyLevels } from './tonalMask';

/** How to keep the tone of a cut apart from what else sounds in it. */
export interface SuggestedIsolation {
  isolation: Isolation;
  /** What sounds beside the tone, in words, as a sentence. */
  reason: string;
}

/** More of a cut tells nothing else. */
const MOST_SECONDS = 12;
/** Bins from partial to partial, at the least, so that something between them is seen. */
const BINS_APART = 16;
const LONGEST_WINDOW = 16384;
/** What is this much louder than the bins around it, and stays, is a partial; noise is even. */
const STANDS_OUT = 4;
const AROUND_BINS = 12;
/** A partial may be this far from where it is looked for: windows, vibrato. */
const STRAY = 0.008;
/** An onset this near to a note's, or to an echo of it, is its own. */
const OWN_SECONDS = 0.06;
/** Hits are looked for in short frames, so long after their onset. */
const HIT_WINDOW = 2048;
const HIT_SECONDS = 0.12;
/** They reach over more than the partials of a tone that is struck again do. */
const HIT_FROM_HZ = 500;
const HIT_BREADTH = 0.3;
/** Softer, all in all, than so many dB under the tone is left as it is: notes, and hits, which stand out. */
const NOTES_DB = -23;
const HITS_DB = -36;
/** So much of what is foreign has to be in one place for it to be cut off there. */
const MOSTLY = 0.9;
/** A sub is so much of what stays under a tone; a kick leaves something there, too. */
const SUB_SHARE = 0.7;
/** A tone with louder noise than this has it for its own. */
const NOISY_DB = -30;
/** Partials of low notes leave little room between them: at least an eighth of the others' is seen there. */
const SEEN_OF_OTHERS_DB = 9;
/** Share of the lowest frequency of the tone under which nothing is its own. */
const BELOW = 0.8;
const HIGHEST_HZ = 20_000;

/** What was found beside a tone: powers, in one unit. */
interface Beside {
  own: number;
  ownAside: number;
  notes: number;
  notesAside: number;
  /** Of the notes, what lies under everything of the tone. */
  below: number;
  /** Of that, an octave under the tone, where a sub would be. */
  octaveDown: number;
  hits: number;
}

/**
 * Looks whether anything but the tone sounds in a cut, by what stands beside its partials: what stays is
 * another's partial, what comes at once is a hit.
 *
 * @returns null where the tone is alone, or where nothing tells it from the rest
 */
export function suggestIsolation(cut: Audio, reading: Reading): SuggestedIsolation | null {
  const { notes, traits } = reading;
  if (notes.length === 0) return null;
  const heard = sliceAudio(cut, 0, Math.min(MOST_SECONDS, durationOf(cut)));
  // Partials that are no multiples are its own.
  const isInharmonic = traits.fm.ratio !== null || traits.ring.rateHz !== null;
  const found = isInharmonic ? onlyHits(heard, reading) : whatIsBeside(heard, reading);
  const db = (power: number) => 10 * Math.log10(power / found.own + 1e-12);
  const hasNotes = db(found.notes) > NOTES_DB;
  const hasHits = db(found.hits) > HITS_DB;
  if (!hasNotes && !hasHits) return null;
  const words: string[] = [];
  if (hasHits) words.push(`hits, ${under(db(found.hits))}`);
  if (hasNotes) words.push(`other notes, ${under(db(found.notes))}`);
  return {
    isolation: {
      ...NO_ISOLATION,
      hitsDown: hasHits,
      ...(isInharmonic ? { character: 'tonal' } : keptApart(found, reading)),
    },
    reason: `Beside the tone there are ${words.join(', and ')}.`,
  };
}

/** The middle, where the others are only on the sides; else the partials, which takes a tone's noise away. */
function keptApart(found: Beside, reading: Reading): Partial<Isolation> {
  if (found.notes > 0 && found.notesAside > MOSTLY * found.notes && found.ownAside < (1 - MOSTLY) * found.own)
    return { place: { kind: 'mid' } };
  // What stands between the partials of a tone is read as its noise, be it other notes or hits.
  const between = found.notes - found.below + found.hits;
  const noiseDb = reading.traits.noise.levelDb ?? -Infinity;
  if (noiseDb < NOISY_DB || noiseDb < 10 * Math.log10(between / found.own + 1e-12) + SEEN_OF_OTHERS_DB)
    return { partialsOnly: true, withSub: hasSub(reading, found) };
  const isBelow = found.notes > 0 && found.below > MOSTLY * found.notes;
  return isBelow ? { band: { fromHz: Math.max(20, BELOW * lowestOf(reading)), toHz: HIGHEST_HZ } } : {};
}

const under = (db: number) => (db < 0 ? `${Math.round(-db)} dB under it` : 'as loud as it');

/** Lowest frequency of the tone: of its notes, or of a source under them. */
function lowestOf({ notes, traits }: Reading): number {
  const down = Math.min(0, ...traits.sources.parts.map(({ semitones }) => semitones));
  return Math.min(...notes.map(({ midi, cents }) => hzFromMidi(midi + cents / 100 + down)));
}

/** A sub that was read, or one that was not, among others, but is there by itself. */
const hasSub = ({ traits }: Reading, { below, octaveDown }: Beside) =>
  traits.sources.parts.some(({ semitones }) => Math.round(semitones) === -12) ||
  (octaveDown > 0 && octaveDown > SUB_SHARE * below);

/** The notes, and those an octave or more down at which it has a source, too. */
function ownNotes({ notes, traits }: Reading): ReadingNote[] {
  const downs = new Set(traits.sources.parts.map(({ semitones }) => Math.round(semitones)).filter((step) => step < 0));
  return [0, ...downs].flatMap((step) => notes.map((note) => ({ ...note, midi: note.midi + step })));
}

const nothing: Beside = { own: 0, ownAside: 0, notes: 0, notesAside: 0, below: 0, octaveDown: 0, hits: 0 };

const onlyHits = (cut: Audio, reading: Reading): Beside => ({ ...nothing, own: 1, hits: hitsAgainst(cut, reading) });

function whatIsBeside(cut: Audio, reading: Reading): Beside {
  const { sampleRateHz } = cut;
  const apart = (BINS_APART * sampleRateHz) / lowestOf(reading);
  const size = Math.min(LONGEST_WINDOW, Math.max(2048, 2 ** Math.ceil(Math.log2(apart))));
  const [left, right = left] = cut.channels;
  const spectra = [left.map((x, i) => 0.5 * (x + right[i])), left.map((x, i) => 0.5 * (x - right[i]))].map((signal) =>
    analyseStft(signal, size),
  );
  const { bins, count } = spectra[0];
  const powers = spectra.map(({ real, imaginary }) => real.map((x, i) => x * x + imaginary[i] * imaginary[i]));
  const levels = powers[0].map((power, i) => Math.sqrt(power + powers[1][i]));
  const notes = ownNotes(reading);
  const input = { isolation: NO_ISOLATION, sampleRateHz, spectra, levels, notes, onsets: [] };
  const comb = combOf(input);
  const steady = steadyLevels(levels, spectra[0], sampleRateHz);
  const stray = STRAY + 2 ** ((reading.traits.unison.detuneCents ?? 0) / 1200) - 1;
  const lowest = (lowestOf(reading) * size) / sampleRateHz;
  const inharmonicity = reading.traits.partials.inharmonicity ?? 0;
  const strays = Float64Array.from({ length: bins }, (_, k) => stray + 0.5 * inharmonicity * (k / lowest) ** 2);
  const found: Beside = { ...nothing };
  const octaveDown = combOf({ ...input, notes: reading.notes.map((note) => ({ ...note, midi: note.midi - 12 })) });
  const isOwn = new Uint8Array(bins);
  const even = new Float64Array(bins);
  for (let frame = 0; frame < count; frame++) {
    const row = frame * bins;
    fillOwn(comb.subarray(row, row + bins), strays, isOwn);
    runningMedian(
      bins,
      AROUND_BINS,
      (k) => steady[row + k],
      (k, level) => (even[k] = level),
    );
    for (let k = 1; k < bins; k++) {
      const power = levels[row + k] ** 2;
      const aside = powers[1][row + k];
      if (isOwn[k]) {
        found.own += power;
        found.ownAside += aside;
        continue;
      }
      const stays = steady[row + k];
      if (stays < STANDS_OUT * even[k]) continue;
      found.notes += stays ** 2;
      if (power > 0) found.notesAside += (stays ** 2 * aside) / power;
      if (k < BELOW * lowest) {
        found.below += stays ** 2;
        if (octaveDown[row + k] > 0.5) found.octaveDown += stays ** 2;
      }
    }
  }
  found.hits = found.own * hitsAgainst(cut, reading);
  return found;
}

/** Power of hits that begin no note against that of everything. */
function hitsAgainst(cut: Audio, { notes, traits }: Reading): number {
  const { sampleRateHz } = cut;
  const mono = toMono(cut);
  const echo = traits.space.echo?.seconds;
  const isOwn = (at: number) =>
    notes.some(({ onsetSeconds }) => {
      const after = at - onsetSeconds;
      const aside = echo && after > 0 ? after - echo * Math.round(after / echo) : after;
      return Math.abs(aside) < OWN_SECONDS;
    });
  const strange = findOnsets(mono, sampleRateHz).filter((at) => !isOwn(at));
  if (strange.length === 0) return 0;
  const stft = analyseStft(mono, HIT_WINDOW);
  const { bins, count, real, imaginary } = stft;
  const levels = real.map((x, i) => Math.sqrt(x * x + imaginary[i] * imaginary[i]));
  const steady = steadyLevels(levels, stft, sampleRateHz);
  const first = Math.round((HIT_FROM_HZ * HIT_WINDOW) / sampleRateHz);
  let [all, hits] = [0, 0];
  for (let frame = 0; frame < count; frame++) {
    const at = frameMiddle(frame, HIT_WINDOW) / sampleRateHz;
    const isHit = strange.some((onset) => at > onset - HIT_SECONDS / 4 && at < onset + HIT_SECONDS);
    let [excess, sudden] = [0, 0];
    for (let k = 0; k < bins; k++) {
      const level = levels[frame * bins + k];
      all += level * level;
      if (!isHit || k < first || level < STANDS_OUT * steady[frame * bins + k]) continue;
      excess += level * level;
      sudden++;
    }
    if (sudden > HIT_BREADTH * (bins - first)) hits += excess;
  }
  return hits / all;
}

/** Which bins partials of the tone may take, with those that stray, and by how much they may, a share. */
function fillOwn(comb: Float32Array, strays: Float64Array, isOwn: Uint8Array): void {
  isOwn.fill(0);
  for (let k = 0; k < comb.length; k++) {
    if (comb[k] < 0.05) continue;
    const to = Math.min(comb.length - 1, Math.ceil(k * (1 + strays[k])));
    for (let near = Math.max(0, Math.floor(k * (1 - strays[k]))); near <= to; near++) isOwn[near] = 1;
  }
}
