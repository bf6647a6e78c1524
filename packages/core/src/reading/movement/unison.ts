import { fftOfSize, nextPowerOfTwo } from '../../dsp/fft';
import { hann, hannResponse } from '../../dsp/windows';
import { type PartialEnvelopes, powersOf } from '../partials/partialEnvelopes';
import type { Reading } from '../schema';
import { mean, median } from '../statistics';

type Unison = Reading['traits']['unison'];

const nothing = { detuneCents: null, beatHz: null, voices: null };

/** Told this surely, voices count as there: they beat freely in the level, and a patch gets them. */
export const SURE_VOICES = 0.4;

/** Of a sound without a note of its own. */
export const noUnison: Unison = {
  ...nothing,
  spectrum: { fromCents: 0, stepCents: 1, levelsDb: [] },
  confidence: 0,
};

/** Cents to either side that are looked at, in steps. */
const RANGE_CENTS = 100;
const STEP_CENTS = 0.25;
const PLACES = 2 * Math.round(RANGE_CENTS / STEP_CENTS) + 1;
/** Partials this far under the strongest are left out. */
const LEAST_DB = -50;
/** Fewer partials than this cannot tell two voices from a tremolo. */
const MIN_PARTIALS = 3;
/** So many spectra tell a median. */
const MIN_AGREEING = 2;
const MIN_SECONDS = 0.3;
/** A partial is looked at when its lines are at most this much wider than those of the highest. */
const WIDEST = 3;
/** A line counts as a voice down to this under the strongest. */
const VOICE_DB = 13;
/** Two voices are told apart when the level between them falls by this. */
const DIP_DB = 2.5;
const MOST_VOICES = 16;
/** And stands so far above all that are none. */
const ABOVE_OTHERS_DB = 1.5;
/** The lower and the upper half of the partials may differ by this at a line. */
const HALVES_DB = 5;
/** Detune is told from so many times what can be told apart. */
const LEAST_RESOLVED = 1.5;
/** Voices are counted when they are all this far apart. */
const LEAST_COUNTED = 3;
/**
 * What is this much wider at this level than one voice with the same contour is several that lie within each
 * other.
 */
const WIDER = 1.6;
const WIDTH_DB = 8;
/** What is wider than this would show voices one beside the other. */
const MOST_UNRESOLVED = 5;
/** Voices make low and high partials as wide in cents; a filter that moves their phases does not. */
const MOST_UNEVEN = 1.8;
/**
 * Of the power beside the pitch in the first half of a note, more than that of one voice, voices keep more
 * than this in the second half; they were found to keep nine tenths. What is nearer counts as at the pitch.
 */
const KEPT_SHARE = 0.2;
const BESIDE_RESOLVED = 1.5;
/** The stretch that is looked at; in a longer one pitches drift more than they beat. */
const MAX_SECONDS = 6;

/**
 * Detuned voices stand at the same distance in cents from every partial, so that beating of partial n is n
 * times as fast; a tremolo's sidebands stand at the same distance in Hz. The spectra of the partials'
 * envelopes, laid over one another on a scale of cents, keep lines of voices only (our own method; the
 * resolution of partial n is that of the stretch, divided by n). The centre between the outermost voices is
 * given in cents from the pitch that the envelopes followed: it is the better pitch of the tone.
 */
export function measureUnison(
  envelopes: PartialEnvelopes,
  fromSeconds: number,
  toSeconds: number,
): { trait: Unison; centreCents: number } {
  const untilSeconds = Math.min(toSeconds, fromSeconds + MAX_SECONDS);
  const stack = detuneSpectrum(envelopes, fromSeconds, untilSeconds);
  if (!stack) return { trait: noUnison, centreCents: 0 };
  const spectrum = plotted(stack.levelsDb);
  const lines = findLines(stack.levelsDb);
  const certain = Math.min(1, stack.partials / 8);
  const single = { trait: { ...nothing, spectrum, confidence: 0.9 * certain }, centreCents: 0 };
  const detuneCents = lines[lines.length - 1] - lines[0];
  // Lines of one movement stand at the same distance in Hz: higher partials have them nearer.
  const scales = [lines[0], lines[lines.length - 1]].every((cents) =>
    stack.halvesDb.every((half) => half[placeOf(cents)] > -VOICE_DB - HALVES_DB),
  );
  if (
    lines.length > 1 &&
    lines.length <= MOST_VOICES &&
    scales &&
    detuneCents > LEAST_RESOLVED * stack.resolutionCents
  ) {
    if (!areKept(envelopes, fromSeconds, untilSeconds)) return single;
    // Many voices that lie closer than can be told apart look like few.
    const nearest = Math.min(...lines.slice(1).map((cents, i) => cents - lines[i]));
    const counted = nearest > LEAST_COUNTED * stack.resolutionCents;
    const voices = counted ? lines.length : undefined;
    const trait = {
      ...told(detuneCents, voices, envelopes.f0Hz),
      spectrum,
      confidence: (counted ? 0.95 : 0.55) * certain,
    };
    return { trait, centreCents: (lines[0] + lines[lines.length - 1]) / 2 };
  }
  const [width, steady] = [stack.levelsDb, stack.singleDb].map(widthCents);
  const [lower, upper] = stack.halvesDb.map(widthCents);
  const isEven = Math.max(lower, upper) < MOST_UNEVEN * Math.min(lower, upper);
  const wider = width - steady;
  const isClose = wider > stack.resolutionCents && wider < MOST_UNRESOLVED * stack.resolutionCents;
  if (width > WIDER * steady && isClose && isEven && areKept(envelopes, fromSeconds, untilSeconds)) {
    const trait = { ...told(wider, undefined, envelopes.f0Hz), spectrum, confidence: 0.5 * certain };
    return { trait, centreCents: 0 };
  }
  return single;
}

/**
 * Whether what stands beside the pitch in the first half of a note does so in the second: a resonance that
 * comes by turns the phases of partials once, voices go on. Where the halves are too short to tell, it does.
 */
function areKept(envelopes: PartialEnvelopes, fromSeconds: number, toSeconds: number): boolean {
  const middle = (fromSeconds + toSeconds) / 2;
  const early = detuneSpectrum(envelopes, fromSeconds, middle);
  const late = detuneSpectrum(envelopes, middle, toSeconds);
  if (!early || !late) return true;
  const reach = BESIDE_RESOLVED * Math.max(early.resolutionCents, late.resolutionCents);
  const more = ({ levelsDb, singleDb }: DetuneSpectrum) => shareBeside(levelsDb, reach) - shareBeside(singleDb, reach);
  return more(late) > KEPT_SHARE * more(early);
}

/** How much of a spectrum's power is further from its highest line. */
function shareBeside(levelsDb: Float64Array, reachCents: number): number {
  const top = levelsDb.indexOf(0);
  let beside = 0;
  let whole = 0;
  levelsDb.forEach((db, place) => {
    const power = Number.isFinite(db) ? 10 ** (db / 10) : 0;
    whole += power;
    if (Math.abs(place - top) * STEP_CENTS > reachCents) beside += power;
  });
  return beside / whole;
}

function told(detuneCents: number, voices: number | undefined, f0Hz: number) {
  const slowest = voices ? f0Hz * (2 ** (detuneCents / (voices - 1) / 1200) - 1) : null;
  return {
    detuneCents: Number(detuneCents.toFixed(2)),
    beatHz: slowest === null ? null : Number(slowest.toFixed(3)),
    voices: voices ?? null,
  };
}

const PLOTTED_CENTS = 60;
const PLOTTED_STEP = 2;
const PLOTTED_FLOOR_DB = -60;

/** The middle of a spectrum, for a plot. */
function plotted(levelsDb: Float64Array): Unison['spectrum'] {
  const middle = levelsDb.subarray(placeOf(-PLOTTED_CENTS), placeOf(PLOTTED_CENTS) + 1);
  const kept = middle.filter((_, i) => i % PLOTTED_STEP === 0);
  return {
    fromCents: -PLOTTED_CENTS,
    stepCents: PLOTTED_STEP * STEP_CENTS,
    levelsDb: Array.from(kept, (db) =>
      Number.isFinite(db) ? Math.max(PLOTTED_FLOOR_DB, Number(db.toFixed(1))) : PLOTTED_FLOOR_DB,
    ),
  };
}

/** Cents of the lines of a spectrum that stand apart, rising, but for those that others come up to. */
function findLines(levelsDb: Float64Array): number[] {
  const lines: { cents: number; db: number }[] = [];
  let lowest = Infinity;
  let highest = -Infinity;
  let at = 0;
  const close = () => lines.push({ cents: centsOf(at), db: highest });
  let rising = true;
  for (let place = 0; place < PLACES; place++) {
    const level = Number.isFinite(levelsDb[place]) ? levelsDb[place] : -Infinity;
    if (rising) {
      if (level > highest) {
        highest = level;
        at = place;
      } else if (level < highest - DIP_DB) {
        close();
        rising = false;
        lowest = level;
      }
    } else {
      lowest = Math.min(lowest, level);
      if (level > lowest + DIP_DB) {
        rising = true;
        highest = level;
        at = place;
      }
    }
  }
  if (rising) close();
  // Where many lines are as strong as the weakest voice would be, it is one of the many.
  const others = Math.max(...lines.filter(({ db }) => db <= -VOICE_DB).map(({ db }) => db));
  return lines.filter(({ db }) => db > Math.max(-VOICE_DB, others + ABOVE_OTHERS_DB)).map(({ cents }) => cents);
}

const placeOf = (cents: number) => Math.round(cents / STEP_CENTS) + (PLACES - 1) / 2;
const centsOf = (place: number) => (place - (PLACES - 1) / 2) * STEP_CENTS;

/** Between the outermost places that come up to the level of voices. */
function widthCents(levelsDb: Float64Array): number {
  const high = [...levelsDb.keys()].filter((place) => levelsDb[place] > -WIDTH_DB);
  return centsOf(high[high.length - 1]) - centsOf(high[0]);
}

/** Power by distance from the pitch, what most partials agree on. */
export interface DetuneSpectrum {
  /** dB against the highest, from −100 to 100 cents in steps of a quarter. */
  levelsDb: Float64Array;
  /** What the lower and the upper half of the partials agree on. */
  halvesDb: Float64Array[];
  /** The same of one steady voice with the same level contour. */
  singleDb: Float64Array;
  partials: number;
  /** Two lines this far apart can be told apart. */
  resolutionCents: number;
}

export function detuneSpectrum(
  { f0Hz, seconds, hopSeconds, windowSeconds, partials }: PartialEnvelopes,
  fromSeconds: number,
  toSeconds: number,
): DetuneSpectrum | undefined {
  const inside = [...seconds.keys()].filter((i) => seconds[i] >= fromSeconds && seconds[i] <= toSeconds);
  const span = inside.length * hopSeconds;
  if (span < MIN_SECONDS) return undefined;
  const [first, last] = [inside[0], inside[inside.length - 1] + 1];
  const power = partials.map((partial) => mean(powersOf(partial).subarray(first, last)));
  const strongest = Math.max(...power);
  const usable = [...power.keys()].filter((n) => 10 * Math.log10(power[n] / strongest) > LEAST_DB);
  const highest = usable[usable.length - 1] + 1;
  const chosen = usable.filter((n) => n + 1 >= highest / WIDEST);
  if (chosen.length < MIN_PARTIALS) return undefined;

  const length = last - first;
  const size = nextPowerOfTwo(8 * length);
  const window = hann(length);
  const fft = fftOfSize(size);
  const real = new Float64Array(size);
  const imaginary = new Float64Array(size);
  const spectrumOf = (n: number, re: (i: number) => number, im: (i: number) => number) => {
    real.fill(0);
    imaginary.fill(0);
    for (let i = 0; i < length; i++) {
      real[i] = window[i] * re(first + i);
      imaginary[i] = window[i] * im(first + i);
    }
    fft.forward(real, imaginary);
    return alongCents((n + 1) * f0Hz, f0Hz, (hz) => {
      const bin = Math.round(hz * hopSeconds * size);
      const k = ((bin % size) + size) % size;
      // The envelope's own window has turned down what is away from the partial.
      return (real[k] ** 2 + imaginary[k] ** 2) / hannResponse(hz * windowSeconds) ** 2;
    });
  };
  const spectra = chosen.map((n) => {
    const { re, im } = partials[n];
    return spectrumOf(
      n,
      (i) => re[i],
      (i) => im[i],
    );
  });
  const levelsDb = agreed(spectra);
  const halvesDb = [agreed(spectra, lowerHalf), agreed(spectra, upperHalf)];
  const singleDb = agreed(
    chosen.map((n) => {
      const { re, im } = partials[n];
      return spectrumOf(
        n,
        (i) => Math.sqrt(re[i] ** 2 + im[i] ** 2),
        () => 0,
      );
    }),
  );
  const resolutionCents = ((2 / span) * 1731) / (highest * f0Hz);
  return { levelsDb, halvesDb, singleDb, partials: chosen.length, resolutionCents };
}

/** Of the partials that reach as far as a place: high ones do not reach what is far from the pitch. */
const lowerHalf = (known: number[]) => known.slice(0, Math.ceil(known.length / 2));
const upperHalf = (known: number[]) => known.slice(-Math.ceil(known.length / 2));

/** What most of the partials' spectra come up to, dB against the highest. */
function agreed(spectra: readonly Float64Array[], among = (known: number[]) => known): Float64Array {
  const levelsDb = Float64Array.from({ length: PLACES }, (_, place) => {
    const known = among(spectra.map((spectrum) => spectrum[place]).filter(Number.isFinite));
    return known.length >= MIN_AGREEING ? median(known) : NaN;
  });
  const top = levelsDb.reduce((a, b) => (b > a ? b : a), -Infinity);
  return levelsDb.map((db) => db - top);
}

/**
 * A spectrum around a partial on the scale of cents, dB against its own sum; NaN where the next partial
 * begins.
 */
function alongCents(partialHz: number, spacingHz: number, powerAt: (hz: number) => number): Float64Array {
  const powers = Float64Array.from({ length: PLACES }, (_, place) => {
    const cents = (place - (PLACES - 1) / 2) * STEP_CENTS;
    const hz = partialHz * (2 ** (cents / 1200) - 1);
    return Math.abs(hz) < 0.45 * spacingHz ? powerAt(hz) : NaN;
  });
  const whole = powers.reduce((sum, power) => (Number.isFinite(power) ? sum + power : sum), 0);
  return powers.map((power) => 10 * Math.log10(power / whole + 1e-12));
}
