import { fftOfSize, nextPowerOfTwo } from '../../dsp/fft';
import { quantile } from '../statistics';

/** A sinusoid that stands out of a long spectrum. */
export interface Line {
  hz: number;
  /** Against the strongest, dB. */
  levelDb: number;
}

export interface Lines {
  /** Lowest first. */
  lines: Line[];
  /** Two lines that are nearer than this are one; each is known to a tenth of it. */
  resolutionHz: number;
}

const MOST_SECONDS = 0.6;
const FLOOR_DB = -50;
/** A line stands so far over what is around it; the highest of noise come near. */
const PROMINENCE_DB = 18;
/** What is around: on both sides, in widths of the main lobe. */
const AROUND_LOBES = 8;
const LOWEST_HZ = 20;
const MOST_LINES = 120;
/**
 * Nuttall's window of three terms: what lies beside its main lobe, three turns to either side, is 71 dB down,
 * so that no side lobe passes for a line (Nuttall 1981).
 */
const WINDOW = [0.4243801, -0.4973406, 0.0782793];
const LOBE_TURNS = 3;

/**
 * The strongest lines between two times, at most 0.6 s of it: peaks of a spectrum, placed by
 * parabolas through the logarithm of three bins (Smith & Serra 1987).
 */
export function findLines(signal: Float64Array, sampleRateHz: number, fromSeconds: number, toSeconds: number): Lines {
  const from = Math.max(0, Math.round(fromSeconds * sampleRateHz));
  const length = Math.min(signal.length, Math.round(toSeconds * sampleRateHz)) - from;
  const used = Math.min(length, Math.round(MOST_SECONDS * sampleRateHz));
  if (used < 64) return { lines: [], resolutionHz: Infinity };
  const size = nextPowerOfTwo(4 * used);
  const [re, im] = [new Float64Array(size), new Float64Array(size)];
  for (let i = 0; i < used; i++) {
    const turn = (2 * Math.PI * i) / used;
    re[i] = signal[from + i] * WINDOW.reduce((sum, term, k) => sum + term * Math.cos(k * turn), 0);
  }
  fftOfSize(size).forward(re, im);
  const db = Float64Array.from({ length: size / 2 }, (_, k) => 10 * Math.log10(re[k] ** 2 + im[k] ** 2 + 1e-30));
  const binHz = sampleRateHz / size;
  const lobe = Math.ceil((LOBE_TURNS * size) / used);
  const first = Math.max(2, Math.ceil(LOWEST_HZ / binHz));
  let top = -Infinity;
  for (let k = first; k < db.length - 1; k++) top = Math.max(top, db[k]);
  const lines: Line[] = [];
  for (let k = first; k < db.length - 1; k++) {
    if (db[k] < top + FLOOR_DB || db[k] < db[k - 1] || db[k] <= db[k + 1]) continue;
    if (db[k] < around(db, k, lobe) + PROMINENCE_DB) continue;
    const curvature = db[k - 1] - 2 * db[k] + db[k + 1];
    const shift = curvature < 0 ? (db[k - 1] - db[k + 1]) / (2 * curvature) : 0;
    lines.push({ hz: (k + shift) * binHz, levelDb: db[k] - top });
  }
  const strongest = lines.sort((a, b) => b.levelDb - a.levelDb).slice(0, MOST_LINES);
  return { lines: strongest.sort((a, b) => a.hz - b.hz), resolutionHz: (LOBE_TURNS * sampleRateHz) / used };
}

/** What a line stands over: the lower quartile of the bins around it. */
function around(db: Float64Array, k: number, lobe: number): number {
  const reach = AROUND_LOBES * lobe;
  return quantile(db.subarray(Math.max(0, k - reach), k + reach + 1), 0.25);
}
