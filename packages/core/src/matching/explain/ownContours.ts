import { DECAY_TAUS, RELEASE_TAUS } from '../../patch/envelopeCurve';
import { defaultEnvelope } from '../../patch/defaults';
import type { Envelope } from '../../patch/schema';
import { fitContour } from '../../reading/level/fitContour';
import type { FittedContour } from '../../reading/level/fittedContour';
import type { LevelContour } from '../../reading/level/levelContour';
import { type SourceTrack, type SourceTracks, trackSources } from '../../reading/partials/sourceTracks';
import { fitLine, median } from '../../reading/statistics';
import {
  type Evidence,
  type Hypothesis,
  type Part,
  fallingEnvelope,
  freedoms,
  route,
  routeId,
  short,
} from './hypothesis';
import { SLOW_RELEASE_SECONDS, levelHypothesis } from './level';
import { nameOf, offsetCents, sourceOf } from './sources';

/** What plain waveforms that stand still leave more of, moves in another way. */
const MOST_LEFT_DB = 3;
/** A source has a contour of its own if it moves by so much against the one that stays. */
const MOVES_DB = 8;
/** Softer, against the one that stays, a source is not followed any more. */
const FAINT_DB = -45;
/** What stays of a fall this far down is nothing. */
const GONE_DB = -36;
/** What has fallen so much less in its last third than in all has come to rest. */
const FLAT_SHARE = 0.1;
/** A fall within so much is a bite. */
const BITE_SECONDS = 0.25;
/** Frames of four periods tell nothing of the first two. */
const BLIND_PERIODS = 2;

/** How a source goes against the one that stays: as a share of what it has at most. */
interface OwnContour {
  kind: 'fall' | 'rise';
  /** Of the decay or of the attack. */
  seconds: number;
  /** What is left after a fall. */
  sustain: number;
  /** Against the one that stays, where it is strongest. */
  gain: number;
}

interface Followed {
  track: SourceTrack;
  /** Undefined where it goes with the one that stays. */
  own: OwnContour | undefined;
  /** Against the one that stays, where it is strongest. */
  gain: number;
}

/**
 * Plain waveforms of which some die away or come up by themselves while the rest stays: the bite of a pluck,
 * a harmonic that is faded in. Their contours are told from how strong each is in every frame; the level is
 * that of the one that stays. Empty where none does.
 */
export function explainOwnContours({ note, midi }: Evidence): Hypothesis[] {
  const { partials, fitted, reading } = note;
  if (!partials || reading.notes.length !== 1) return [];
  const { onsetSeconds, noteOffSeconds, releaseSeconds } = fitted;
  const from = onsetSeconds + BLIND_PERIODS / partials.f0Hz;
  // What is let go so slowly may as well be a second part of the fall.
  const to = (releaseSeconds ?? Infinity) > SLOW_RELEASE_SECONDS ? Infinity : noteOffSeconds!;
  const tracks = trackSources(partials, from, to);
  if (!tracks || tracks.errorDb > MOST_LEFT_DB) return [];
  const main = lastOf(tracks);
  const followed = tracks.tracks.map((track) => follow(track, main, tracks, onsetSeconds));
  if (followed.every(({ own }) => !own)) return [];
  const { pitch } = reading.traits;
  const most = Math.max(...followed.map(({ gain }) => gain));
  const cents = offsetCents(pitch, midi);
  // The pitch and its partials are measured apart, to a cent or so.
  const root = Math.max(1, Math.round((pitch.f0Hz ?? partials.f0Hz) / partials.f0Hz));
  const sources = followed.map(({ track: { part }, own, gain }, i) =>
    sourceHypothesis(
      {
        ...part,
        semitones: 12 * Math.log2(part.multiple / root),
        levelDb: 20 * Math.log10(gain / most),
      },
      own,
      i,
      cents,
    ),
  );
  const level = goingOn(fitContour(levelOfMain(note.level, followed, onsetSeconds)));
  return [...sources, levelHypothesis(level, note.fundamental)];
}

/** What falls all the way falls on when it is let go, wherever a note was taken to end. */
function goingOn(fitted: FittedContour): FittedContour {
  const isOneFall = fitted.releaseSeconds === null && fitted.sustainDb < GONE_DB;
  return isOneFall ? { ...fitted, releaseSeconds: likeDecay(fitted.decaySeconds) } : fitted;
}

/** Time of a release that is as steep as a decay. */
const likeDecay = (decaySeconds: number) => (decaySeconds / DECAY_TAUS) * RELEASE_TAUS;

/** Which is the strongest at the end of what can be followed. */
function lastOf({ tracks }: SourceTracks): SourceTrack {
  const heard = 1 + Math.max(...tracks.map(({ amplitudes }) => amplitudes.findLastIndex((a) => a > 0)));
  const atEnd = ({ amplitudes }: SourceTrack) => median(amplitudes.slice(Math.floor(0.75 * heard), heard));
  return tracks.reduce((a, b) => (atEnd(b) > atEnd(a) ? b : a));
}

function follow(track: SourceTrack, main: SourceTrack, { seconds }: SourceTracks, onsetSeconds: number): Followed {
  const top = Math.max(...main.amplitudes);
  const heard = [...seconds.keys()].filter((t) => main.amplitudes[t] > top * 10 ** (FAINT_DB / 20));
  const ratio = heard.map((t) => track.amplitudes[t] / main.amplitudes[t]);
  const times = heard.map((t) => seconds[t] - onsetSeconds);
  const share = Math.max(1, Math.floor(heard.length / 8));
  const [start, end] = [median(ratio.slice(0, share)), median(ratio.slice(-share))];
  const steady = { track, own: undefined, gain: median(ratio) };
  if (track === main || heard.length < 4) return steady;
  const movedDb = 20 * Math.log10((end + 1e-6) / (start + 1e-6));
  const own =
    movedDb < -MOVES_DB ? fallOf(times, ratio, end) : movedDb > MOVES_DB ? riseOf(times, ratio, end) : undefined;
  return own ? { track, own, gain: own.gain } : steady;
}

/** A straight line through what is over the end, in decibels over time, weighted by how strong it is. */
function fallOf(times: readonly number[], ratio: readonly number[], end: number): OwnContour | undefined {
  const most = Math.max(...ratio);
  const stays = 20 * Math.log10(end / most) > GONE_DB && isFlat(ratio) ? end : 0;
  const over = ratio.map((r) => Math.max(1e-9, r - stays));
  const used = [...over.keys()].filter((t) => over[t] > most * 10 ** (GONE_DB / 20) && over[t] > stays / 4);
  if (used.length < 3) return undefined;
  const { slope, intercept } = fitLine(
    used.map((t) => times[t]),
    used.map((t) => Math.log(over[t])),
    used.map((t) => over[t]),
  );
  if (!(slope < 0)) return undefined;
  const atOnset = Math.exp(intercept) + stays;
  return { kind: 'fall', seconds: -DECAY_TAUS / slope, sustain: stays / atOnset, gain: atOnset };
}

/** Whether the last third hardly falls any more, against what fell before. */
function isFlat(ratio: readonly number[]): boolean {
  const before = ratio[Math.floor((2 * ratio.length) / 3)];
  const end = ratio[ratio.length - 1];
  return Math.log(before / end) < FLAT_SHARE * Math.log(ratio[0] / end);
}

/** A straight rise is half up after half of its time. */
function riseOf(times: readonly number[], ratio: readonly number[], end: number): OwnContour | undefined {
  const half = ratio.findIndex((r) => r >= end / 2);
  if (half < 0) return undefined;
  return { kind: 'rise', seconds: 2 * Math.max(0.001, times[half]), sustain: 1, gain: end };
}

const valueAt = ({ kind, seconds, sustain }: OwnContour, t: number): number =>
  kind === 'rise'
    ? Math.min(1, Math.max(0, t) / seconds)
    : sustain + (1 - sustain) * Math.exp((-DECAY_TAUS * Math.max(0, t)) / seconds);

/** Where sources that die away have less of the power than this, the level is that of those that stay. */
const CLEAR_SHARE = 5e-4;
/** The line through what comes then is as long as what came before, and at least so long. */
const LEAST_LINE_SECONDS = 0.06;

/**
 * The level of the sources that stay: of the whole, less what the others add to it. Partials at one place add
 * up by their phases, not by their powers; so as long as something dies away, what comes later is gone back
 * from in a straight line of decibels.
 */
function levelOfMain(level: LevelContour, followed: readonly Followed[], onsetSeconds: number): LevelContour {
  const { hopSeconds } = level;
  const powerOf = (those: readonly Followed[], t: number) =>
    those.reduce((sum, { own, gain }) => sum + (gain * (own ? valueAt(own, t) : 1)) ** 2, 0);
  const staying = followed.filter(({ own }) => !own);
  const falling = followed.filter(({ own }) => own?.kind === 'fall');
  const shareAt = (those: readonly Followed[], i: number) => {
    const t = i * hopSeconds - onsetSeconds;
    return powerOf(those, t) / powerOf(followed, t);
  };
  const rms = level.rms.map((x, i) => x * Math.sqrt(shareAt(staying, i)));
  const onset = Math.max(0, Math.round(onsetSeconds / hopSeconds));
  const clear = rms.findIndex((_, i) => i > onset && shareAt(falling, i) < CLEAR_SHARE);
  const end = clear + Math.max(clear - onset, Math.round(LEAST_LINE_SECONDS / hopSeconds));
  if (falling.length === 0 || clear <= onset || end >= rms.length || !rms.slice(clear, end).every((x) => x > 0))
    return { ...level, rms };
  const { slope, intercept } = fitLine(
    Array.from({ length: end - clear }, (_, i) => clear + i),
    Array.from(rms.slice(clear, end), Math.log),
    new Float64Array(end - clear).fill(1),
  );
  // The rise is that of the whole.
  const top = level.rms.slice(0, clear).reduce((best, x, i, all) => (x > all[best] ? i : best), 0);
  for (let i = 0; i < clear; i++)
    rms[i] = Math.exp(intercept + slope * Math.max(i, top)) * (i < top ? level.rms[i] / level.rms[top] : 1);
  return { ...level, rms };
}

function sourceHypothesis(part: Part, own: OwnContour | undefined, i: number, cents: number): Hypothesis {
  const id = `source-${i + 1}`;
  const plain = nameOf(part);
  const isBite = own?.kind === 'fall' && own.seconds < BITE_SECONDS;
  const name = isBite ? `${plain} bite` : plain;
  const target = { moduleId: id, parameter: 'letThrough' };
  const envelope = own && envelopeOf(own, `own-${id}`, name);
  return {
    name,
    stage: 'sources',
    confidence: 0.7,
    why: own
      ? `a ${plain} ${own.kind === 'fall' ? `dies away within ${short(own.seconds)} s` : `comes up within ${short(own.seconds)} s`} while the rest stays`
      : `a ${plain} is there all the time`,
    apply: (layer) => {
      layer.sources.push({
        ...sourceOf(part, id, name, cents, {}),
        ...(own ? { letThrough: Math.round(1000 * (own.kind === 'rise' ? 0 : own.sustain)) / 10 } : {}),
      });
      if (own && envelope)
        route(layer, envelope, target, Math.round(1000 * (own.kind === 'rise' ? 1 : 1 - own.sustain)) / 10);
    },
    freedoms: [
      ...freedoms(id, 'sources', { levelDb: 0.03, ...(i > 0 ? { startPhaseCycles: 0.2 } : {}) }),
      ...(own
        ? freedoms(`own-${id}`, 'sources', { [own.kind === 'rise' ? 'attackSeconds' : 'decaySeconds']: 0.04 })
        : []),
    ],
    brings: [...(i > 0 ? [id] : []), ...(own ? [routeId(`own-${id}`, target)] : [])],
  };
}

function envelopeOf({ kind, seconds }: OwnContour, id: string, source: string): Envelope {
  if (kind === 'fall')
    return { ...fallingEnvelope(id, `Fall of the ${source}`, seconds), releaseSeconds: likeDecay(seconds) };
  return { ...defaultEnvelope(id, `Rise of the ${source}`), attackSeconds: seconds, sustainDb: 0, releaseSeconds: 2 };
}
