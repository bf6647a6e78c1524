import { hann } from '../../dsp/windows';
import { type Line, findLines } from '../spectra/lines';
import { fitLine } from '../statistics';

/** A sine that dies away by itself, or stays. */
export interface Mode {
  hz: number;
  /** As it would be at the onset, in the signal's unit. */
  amplitude: number;
  /** dB a second that it falls; 0 where it stays. */
  fallDb: number;
  /** How near another line would have to be, to be taken for the same. */
  resolutionHz: number;
}

/** What dies away within a moment is seen early, and what lies close together late. */
const WINDOWS_SECONDS = [0.12, 0.6];
const MOST_MODES = 16;
const MOST_LINES = 32;
const MOST_FRAMES = 60;
/** Against the strongest, at the onset. */
const LEAST_DB = -45;
const [SHORTEST_SECONDS, LONGEST_SECONDS] = [0.02, 0.12];
/** Turns against the nearest other line, of which a window must not hear anything. */
const APART_TURNS = 4;
/** So far down a line is no more followed. */
const FOLLOWED_DB = 35;
const FEWEST_FRAMES = 4;

/**
 * The strongest sines of a sound that was struck, whatever their frequencies, each with a fall of its own
 * (modal analysis, our own rules): lines of a short and of a long spectrum, each turned down and followed
 * under a window that keeps its neighbours out, and a straight line through its decibels.
 *
 * @param fromSeconds onset
 * @param toSeconds up to where it is followed: the end of the note
 * @returns the strongest first
 */
export function measureModes(
  signal: Float64Array,
  sampleRateHz: number,
  fromSeconds: number,
  toSeconds: number,
): Mode[] {
  const lines = distinctLines(signal, sampleRateHz, fromSeconds, toSeconds);
  const modes = lines.flatMap((line): Mode[] => {
    const apart = Math.min(...lines.filter((other) => other !== line).map(({ hz }) => Math.abs(hz - line.hz)), line.hz);
    const seconds = Math.min(LONGEST_SECONDS, Math.max(SHORTEST_SECONDS, APART_TURNS / apart));
    const followed = follow(signal, sampleRateHz, line.hz, seconds, fromSeconds, toSeconds);
    return followed ? [{ ...followed, hz: line.hz, resolutionHz: line.resolutionHz }] : [];
  });
  const strongest = Math.max(...modes.map(({ amplitude }) => amplitude));
  return modes
    .filter(({ amplitude }) => 20 * Math.log10(amplitude / strongest) > LEAST_DB)
    .sort((a, b) => b.amplitude - a.amplitude)
    .slice(0, MOST_MODES);
}

interface DistinctLine extends Line {
  resolutionHz: number;
}

/** Lines of both spectra, the strongest first; of two that are one, that of the longer. */
function distinctLines(signal: Float64Array, sampleRateHz: number, from: number, to: number): DistinctLine[] {
  const distinct: DistinctLine[] = [];
  for (const seconds of WINDOWS_SECONDS.toReversed()) {
    const { lines, resolutionHz } = findLines(signal, sampleRateHz, from, Math.min(to, from + seconds));
    for (const line of lines.sort((a, b) => b.levelDb - a.levelDb).slice(0, MOST_LINES / WINDOWS_SECONDS.length))
      if (distinct.every(({ hz }) => Math.abs(hz - line.hz) > resolutionHz)) distinct.push({ ...line, resolutionHz });
  }
  return distinct;
}

function follow(
  signal: Float64Array,
  sampleRateHz: number,
  hz: number,
  windowSeconds: number,
  fromSeconds: number,
  toSeconds: number,
): Pick<Mode, 'amplitude' | 'fallDb'> | undefined {
  const length = Math.round(windowSeconds * sampleRateHz);
  const window = hann(length);
  const gain = 2 / window.reduce((sum, w) => sum + w, 0);
  const times: number[] = [];
  const levels: number[] = [];
  const first = Math.round(fromSeconds * sampleRateHz);
  const end = Math.min(signal.length, Math.round(toSeconds * sampleRateHz));
  const hop = Math.max(1, Math.round(length / 4), Math.ceil((end - first - length) / MOST_FRAMES));
  const turn = (2 * Math.PI * hz) / sampleRateHz;
  const [cosine, sine] = [Math.cos(turn), Math.sin(turn)];
  for (let start = first; start + length <= end; start += hop) {
    let [re, im] = [0, 0];
    // Turned on by its own recurrence: many times faster than calling it.
    let [c, s] = [1, 0];
    for (let i = 0; i < length; i++) {
      const x = window[i] * signal[start + i];
      re += x * c;
      im += x * s;
      const next = c * cosine - s * sine;
      s = s * cosine + c * sine;
      c = next;
    }
    times.push((start + length / 2 - first) / sampleRateHz);
    levels.push(20 * Math.log10(gain * Math.sqrt(re * re + im * im) + 1e-9));
  }
  const top = Math.max(...levels);
  const at = levels.indexOf(top);
  const gone = levels.findIndex((db, i) => i > at && db < top - FOLLOWED_DB);
  const last = gone < 0 ? levels.length : gone;
  if (last - at < Math.min(FEWEST_FRAMES, levels.length)) return undefined;
  const used = levels.slice(at, last);
  const { slope, intercept } = fitLine(
    times.slice(at, last),
    used,
    used.map((db) => 10 ** ((db - top) / 40)),
  );
  return { amplitude: 10 ** (Math.min(intercept, top + FOLLOWED_DB) / 20), fallDb: Math.max(0, -slope) };
}
