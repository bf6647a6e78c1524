import { LOWEST_MIDI, type NoteActivity } from './noteActivity';
import { quantile } from '../statistics';

/** A note as the activity shows it. */
export interface TrackedNote {
  midi: number;
  onsetSeconds: number;
  endSeconds: number;
  /** Sum of its partials' magnitudes where it is loudest. */
  level: number;
}

/** A note sounds while it has this share of the loudest one in its frame, … */
const FRAME_SHARE = 0.25;
/** … of its own highest, and of the loudest of the cut: −20 and −26 dB. */
const OWN_SHARE = 0.1;
const CUT_SHARE = 0.05;
const MIN_SECONDS = 0.05;
const GAP_SECONDS = 0.035;
/** A hit may hide a note for longer. */
const HIDDEN_SECONDS = 0.16;
/** An onset so near is the note's own: what the frames show is smeared over their window. */
const SNAP_SECONDS = 0.05;
/**
 * A note is struck again at an onset when it rises over what it had before by this factor, or out of a dip to
 * this share of that.
 */
const RISE = 1.3;
/** What a hit adds to a note is not to be taken for it. */
const RISE_AT_HIT = 1.9;
const DIP = 0.72;
/**
 * Where a note begins or ends its neighbours seem to sound for a moment: so short and so much softer than it.
 */
const SMEAR_SEMITONES = 2;
const SMEAR_SECONDS = 0.13;
const SMEAR_SHARE = 0.75;
/**
 * What stands under its louder neighbours by this share, all along, is what the templates could not explain.
 */
const GHOST_SHARE = 0.33;
/** An overtone's note needs more, as long as it comes with its fundamental's. */
const OVERTONE_SHARE = 0.5;
/** Semitones from a note to what its partials could be taken for. */
export const OVERTONES = [12, 19, 24, 28, 31, 36];
export const MOST_VOICES = 4;
/** A drum's falling tone looks like short low notes one after the other, each under the one before. */
const SWEEP_UNDER_MIDI = 55;
const SWEEP_NOTE_SECONDS = 0.26;
const SWEEP_STEP_SECONDS = 0.09;
const SWEEP_SEMITONES = 5;
/** A line is one in which other notes sound at the same time for less than this share. */
const LINE_SHARE = 0.15;

interface Run {
  midi: number;
  from: number;
  to: number;
}

/**
 * Notes from how much each note sounds: runs over thresholds, split where a note is struck again, without
 * what only seems to sound beside louder ones.
 *
 * @param onsets times at which something starts, rising
 * @param hits those of them at which a short noise sounds, which makes a dip in everything else
 */
export function trackNotes(
  activity: NoteActivity,
  onsets: readonly number[],
  hits: readonly number[] = [],
): TrackedNote[] {
  const { count, noteCount, levels, hopSeconds } = activity;
  const tops = new Float64Array(count);
  for (let frame = 0; frame < count; frame++) {
    for (let n = 0; n < noteCount; n++) tops[frame] = Math.max(tops[frame], levels[frame * noteCount + n]);
  }
  const loudest = quantile(tops, 0.95);
  if (!(loudest > 0)) return [];
  const levelOf = (midi: number, frame: number) => levels[frame * noteCount + midi - LOWEST_MIDI];

  const runs: Run[] = [];
  for (let midi = LOWEST_MIDI; midi < LOWEST_MIDI + noteCount; midi++) {
    runs.push(...joinedUnderHits(runsOf(midi)).flatMap(splitWhereStruck));
  }
  const long = runs.filter(({ from, to }) => (to - from) * hopSeconds >= MIN_SECONDS);
  const real = withoutGhosts(withoutSweeps(long));
  const voiced = isLine(real) ? oneAtATime(real) : atMost(real);
  return voiced
    .map((run) => {
      const top = peakOf(run);
      return { midi: run.midi, onsetSeconds: onsetOf(run), endSeconds: endOf(run), level: top };
    })
    .sort((a, b) => a.onsetSeconds - b.onsetSeconds || a.midi - b.midi);

  function runsOf(midi: number): Run[] {
    const found: Run[] = [];
    let from = -1;
    let last = -1;
    let peak = 0;
    /** The least since a run died away: what only goes on falling is its tail. */
    let least = 0;
    for (let frame = 0; frame < count; frame++) {
      const level = levelOf(midi, frame);
      const isHeard = level > CUT_SHARE * loudest && level > FRAME_SHARE * tops[frame];
      least = Math.min(least, level);
      const sounds = isHeard && (from < 0 ? level > RISE * least : level > OWN_SHARE * peak);
      if (sounds) {
        if (from < 0) from = frame;
        last = frame;
        peak = Math.max(peak, level);
      } else if (from >= 0 && (frame - last) * hopSeconds > GAP_SECONDS) {
        found.push({ midi, from, to: last + 1 });
        from = -1;
        least = level > OWN_SHARE * peak ? 0 : level;
        peak = 0;
      }
    }
    if (from >= 0) found.push({ midi, from, to: last + 1 });
    return found;
  }

  function joinedUnderHits(found: readonly Run[]): Run[] {
    const joined: Run[] = [];
    for (const run of found) {
      const before = joined[joined.length - 1];
      const gap = before ? (run.from - before.to) * hopSeconds : Infinity;
      const hidden = hits.some((at) => at > run.from * hopSeconds - HIDDEN_SECONDS && at < run.from * hopSeconds);
      if (before && gap < HIDDEN_SECONDS && hidden && levelSoon(run) < RISE_AT_HIT * levelLate(before))
        before.to = run.to;
      else joined.push({ ...run });
    }
    return joined;
  }

  /** Highest level within a moment after a run's start, or before its end. */
  function levelSoon({ midi, from, to }: Run): number {
    return peakOf({ midi, from, to: Math.min(to, from + Math.ceil((2 * SNAP_SECONDS) / hopSeconds)) });
  }

  function levelLate({ midi, from, to }: Run): number {
    return peakOf({ midi, from: Math.max(from, to - Math.ceil((2 * SNAP_SECONDS) / hopSeconds)), to });
  }

  function splitWhereStruck(run: Run): Run[] {
    const reach = Math.ceil(SNAP_SECONDS / hopSeconds);
    const parts: Run[] = [];
    let { from } = run;
    for (const onset of onsets) {
      const at = Math.round(onset / hopSeconds);
      if ((at - from) * hopSeconds < MIN_SECONDS + SNAP_SECONDS / 2 || at + 1 >= run.to) continue;
      let dip = at;
      for (let f = Math.max(from, at - reach); f <= Math.min(run.to - 1, at + reach); f++) {
        if (levelOf(run.midi, f) < levelOf(run.midi, dip)) dip = f;
      }
      let after = 0;
      let before = 0;
      for (let f = dip; f < Math.min(run.to, dip + 2 * reach); f++) after = Math.max(after, levelOf(run.midi, f));
      for (let f = Math.max(from, dip - 2 * reach); f < dip; f++) before = Math.max(before, levelOf(run.midi, f));
      const hit = hits.includes(onset);
      const falls = !hit && levelOf(run.midi, dip) < DIP * Math.min(before, after);
      if ((!falls && after < (hit ? RISE_AT_HIT : RISE) * before) || dip <= from) continue;
      parts.push({ ...run, from, to: Math.max(from + 1, Math.min(dip, at)) });
      from = Math.max(dip, Math.min(at, run.to - 1));
    }
    parts.push({ ...run, from });
    return parts;
  }

  function peakOf({ midi, from, to }: Run): number {
    let peak = 0;
    for (let frame = from; frame < to; frame++) peak = Math.max(peak, levelOf(midi, frame));
    return peak;
  }

  /** Where the run reaches half of what it soon has: there a window stands half over a step. */
  function onsetOf(run: Run): number {
    const soon = Math.min(run.to, run.from + Math.ceil(0.12 / hopSeconds));
    let peak = 0;
    for (let frame = run.from; frame < soon; frame++) peak = Math.max(peak, levelOf(run.midi, frame));
    let at = run.from;
    while (at < soon - 1 && levelOf(run.midi, at) < 0.5 * peak) at++;
    const seconds = at * hopSeconds;
    const near = onsets.filter((onset) => Math.abs(onset - seconds) < SNAP_SECONDS);
    return near.length ? near.reduce((a, b) => (Math.abs(b - seconds) < Math.abs(a - seconds) ? b : a)) : seconds;
  }

  /** Where the run falls to half of what it had shortly before. */
  function endOf({ midi, from, to }: Run): number {
    const before = levelOf(midi, Math.max(from, to - Math.ceil(0.12 / hopSeconds)));
    let at = to - 1;
    while (at > from && levelOf(midi, at) < 0.5 * before) at--;
    return (at + 1) * hopSeconds;
  }

  function withoutSweeps(all: readonly Run[]): Run[] {
    const short = all
      .filter(({ midi, from, to }) => midi < SWEEP_UNDER_MIDI && (to - from) * hopSeconds < SWEEP_NOTE_SECONDS)
      .sort((a, b) => a.from - b.from || b.midi - a.midi);
    const gone = new Set<Run>();
    for (let i = 0; i < short.length; i++) {
      const chain = [short[i]];
      let top = short[i].midi;
      for (const run of short.slice(i + 1)) {
        const last = chain[chain.length - 1];
        if ((run.from - last.from) * hopSeconds > SWEEP_STEP_SECONDS) break;
        // Those that begin together have no order.
        if (run.from - last.from <= 1) top = Math.max(top, run.midi);
        else if (run.midi >= last.midi) continue;
        chain.push(run);
      }
      const last = chain[chain.length - 1];
      const falls = top - last.midi >= SWEEP_SEMITONES && last.from - chain[0].from > 1;
      if (chain.length >= 3 && falls) chain.forEach((run) => gone.add(run));
    }
    return all.filter((run) => !gone.has(run));
  }

  function withoutGhosts(all: Run[]): Run[] {
    return all.filter((run) => {
      let own = 0;
      let loud = 0;
      for (let frame = run.from; frame < run.to; frame++) {
        own += levelOf(run.midi, frame);
        loud += tops[frame];
      }
      if (own < GHOST_SHARE * loud) return false;
      if (all.some((other) => isSmear(run, other))) return false;
      return !all.some((other) => {
        if (other === run || !OVERTONES.includes(run.midi - other.midi)) return false;
        const together = Math.abs(other.from - run.from) * hopSeconds < SNAP_SECONDS || other.from < run.from;
        return together && other.to >= run.to - 3 && peakOf(run) < OVERTONE_SHARE * peakOf(other);
      });
    });
  }

  function isSmear(run: Run, other: Run): boolean {
    const near = other !== run && Math.abs(other.midi - run.midi) <= SMEAR_SEMITONES;
    const reach = SNAP_SECONDS / hopSeconds;
    return (
      near &&
      (run.to - run.from) * hopSeconds < SMEAR_SECONDS &&
      other.to - other.from > run.to - run.from &&
      other.from - reach < run.to &&
      other.to + reach > run.from &&
      peakOf(run) < SMEAR_SHARE * peakOf(other)
    );
  }

  function isLine(all: readonly Run[]): boolean {
    const voices = new Uint8Array(count);
    for (const { from, to } of all) for (let frame = from; frame < to; frame++) voices[frame]++;
    const sounding = voices.filter((n) => n > 0).length;
    return voices.filter((n) => n > 1).length < LINE_SHARE * sounding;
  }

  /** A line: a note takes over where it becomes louder than the one before; what never does is none. */
  function oneAtATime(all: readonly Run[]): Run[] {
    const kept: Run[] = [];
    for (const next of [...all].sort((a, b) => a.from - b.from)) {
      const run = { ...next };
      const before = kept[kept.length - 1];
      if (before && before.to > run.from) {
        const until = Math.min(before.to, run.to);
        let at = run.from;
        const [own, other] = [levelSoon(run), levelLate(before)];
        // As shares of what each has: a soft note after a loud one begins as soon.
        while (at < until && levelOf(run.midi, at) / own < levelOf(before.midi, at) / other) at++;
        if (at === until && run.to <= before.to) continue;
        run.from = at;
        before.to = Math.min(before.to, at);
        if ((before.to - before.from) * hopSeconds < MIN_SECONDS / 2) kept.pop();
      }
      kept.push(run);
    }
    return kept.filter(({ from, to }) => (to - from) * hopSeconds >= MIN_SECONDS);
  }

  /** The loudest of what sounds at once. */
  function atMost(all: readonly Run[]): Run[] {
    return all.filter((run) => {
      const over = all.filter((other) => other.from < run.to && other.to > run.from && peakOf(other) > peakOf(run));
      const middle = (run.from + run.to) / 2;
      return over.filter(({ from, to }) => from <= middle && to >= middle).length < MOST_VOICES;
    });
  }
}
