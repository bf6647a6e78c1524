import { hzFromMidi } from '../../dsp/pitch';
import { createFrameSpectrum } from '../../dsp/frameSpectrum';
import { resample } from '../../dsp/sinc';
import { hannResponse } from '../../dsp/windows';

/**
 * Spectra in which notes are looked for: long frames for what lies low, where notes are close, short ones
 * above. What is as loud all around, such as a hit, is taken away.
 */
export interface NoteSpectra {
  hopSeconds: number;
  count: number;
  /** Values of one frame: magnitudes at `hz`. */
  bins: number;
  hz: Float64Array;
  levels: Float32Array;
}

/**
 * The two kinds of frames, by about how long they are and which frequencies they are used for. They are cut
 * from the sound after as many halvings of its rate as leave it above `leastRateHz`.
 */
const RANGES = [
  { seconds: 0.186, fromHz: 25, toHz: 300, leastRateHz: 2500 },
  { seconds: 0.093, fromHz: 300, toHz: 5000, leastRateHz: 20000 },
];
/** About the time between two frames. */
const HOP_SECONDS = 0.0116;
/** Frames are placed this much further apart, rather than there being more of them. */
const MOST_FRAMES = 1200;
/** Half the band whose median is what is as loud all around. */
const FLOOR_HZ = 190;
const FLOOR_FACTOR = 1.4;
/** Bins from one median to the next; in between it runs straight. */
const FLOOR_STEP = 8;

interface Range {
  /** Of a frame, in samples at the sound's own rate. */
  size: number;
  halvings: number;
  firstBin: number;
  count: number;
  offset: number;
}

function rangesAt(sampleRateHz: number): Range[] {
  let offset = 0;
  return RANGES.map(({ seconds, fromHz, toHz, leastRateHz }) => {
    const size = 2 ** Math.round(Math.log2(seconds * sampleRateHz));
    const firstBin = Math.ceil((fromHz * size) / sampleRateHz);
    const count = Math.floor((Math.min(toHz, 0.45 * sampleRateHz) * size) / sampleRateHz) - firstBin;
    const halvings = Math.max(0, Math.floor(Math.log2(sampleRateHz / leastRateHz)));
    const range = { size, halvings, firstBin, count, offset };
    offset += count;
    return range;
  });
}

/** @param mostFrames there are no more frames; they stand further apart */
export function measureNoteSpectra(
  mono: ArrayLike<number>,
  sampleRateHz: number,
  mostFrames = MOST_FRAMES,
): NoteSpectra {
  const ranges = rangesAt(sampleRateHz);
  const bins = ranges.reduce((sum, { count }) => sum + count, 0);
  const hop = Math.max(Math.round(HOP_SECONDS * sampleRateHz), Math.ceil(mono.length / mostFrames));
  const count = Math.ceil(mono.length / hop);
  const levels = new Float32Array(count * bins);
  const hz = new Float64Array(bins);
  const octaves = [mono];
  for (const { size: wholeSize, halvings, firstBin, count: width, offset } of ranges) {
    while (octaves.length <= halvings) octaves.push(resample(octaves[octaves.length - 1], 0.5));
    const size = wholeSize / 2 ** halvings;
    const spectrum = createFrameSpectrum(size);
    const { real, imaginary } = spectrum;
    const row = new Float64Array(width);
    const reach = Math.max(4, Math.round((FLOOR_HZ * wholeSize) / sampleRateHz));
    for (let k = 0; k < width; k++) hz[offset + k] = ((firstBin + k) * sampleRateHz) / wholeSize;
    for (let frame = 0; frame < count; frame++) {
      spectrum.transform(octaves[halvings], Math.round((frame * hop) / 2 ** halvings) - size / 2);
      for (let k = 0; k < width; k++) {
        row[k] = (4 * Math.sqrt(real[firstBin + k] ** 2 + imaginary[firstBin + k] ** 2)) / size;
      }
      takeFloor(row, reach, levels.subarray(frame * bins + offset, frame * bins + offset + width));
    }
  }
  return { hopSeconds: hop / sampleRateHz, count, bins, hz, levels };
}

/** Writes a row less what is as loud all around, the median of the bins around, which lines do not lift. */
function takeFloor(row: Float64Array, reach: number, out: Float32Array): void {
  let before = 0;
  for (let k = 0; k - FLOOR_STEP < row.length; k += FLOOR_STEP) {
    const around = row.slice(Math.max(0, k - reach), k + reach + 1).sort();
    const floor = around.length ? around[around.length >> 1] : before;
    for (let i = Math.max(0, k - FLOOR_STEP + 1); i <= Math.min(k, row.length - 1); i++) {
      const along = k === 0 ? 1 : 1 - (k - i) / FLOOR_STEP;
      out[i] = Math.max(0, row[i] - FLOOR_FACTOR * (before + along * (floor - before)));
    }
    before = floor;
  }
}

/**
 * What the partials of a note look like in `NoteSpectra`: the bins that they lie in, and their values for
 * each plain spectrum, of sum 1.
 */
export interface NoteTemplate {
  midi: number;
  bins: Int32Array;
  shapes: Float64Array[];
}

/** Spectra that tones have in between: nearly sine, dull, saw, hollow, and one without its lows. */
const SHAPES: readonly ((n: number) => number)[] = [
  (n) => 1 / n ** 3,
  (n) => 1 / n ** 1.6,
  (n) => 1 / n ** 0.8,
  (n) => (n % 2 ? 1 / n : 0.03 / n),
  (n) => Math.min(1, n / 4) / n ** 0.8,
];

const MOST_PARTIALS = 30;
/** Half the width of a partial in turns of its window, the main lobe of Hann's. */
const LOBE_TURNS = 2;

/**
 * Templates of every note of a range.
 *
 * @param tuningCents of the piece against A = 440 Hz
 */
export function noteTemplates(
  { hz, bins: width }: NoteSpectra,
  sampleRateHz: number,
  fromMidi: number,
  toMidi: number,
  tuningCents: number,
): NoteTemplate[] {
  const ranges = rangesAt(sampleRateHz);
  return Array.from({ length: toMidi - fromMidi + 1 }, (_, note) => {
    const midi = fromMidi + note;
    const f0 = hzFromMidi(midi + tuningCents / 100);
    const rows = SHAPES.map(() => new Float64Array(width));
    const used = new Set<number>();
    for (let n = 1; n <= MOST_PARTIALS && n * f0 < hz[width - 1]; n++) {
      for (const { size, firstBin, count, offset } of ranges) {
        const at = (n * f0 * size) / sampleRateHz;
        const last = Math.min(firstBin + count - 1, Math.floor(at + LOBE_TURNS));
        for (let k = Math.max(firstBin, Math.ceil(at - LOBE_TURNS)); k <= last; k++) {
          const bin = offset + k - firstBin;
          const lobe = Math.abs(hannResponse(k - at));
          used.add(bin);
          rows.forEach((row, s) => (row[bin] += SHAPES[s](n) * lobe));
        }
      }
    }
    const bins = Int32Array.from(used);
    const shapes = rows.map((row) => {
      const sum = row.reduce((a, x) => a + x, 0);
      return Float64Array.from(bins, (bin) => row[bin] / sum);
    });
    return { midi, bins, shapes };
  });
}
