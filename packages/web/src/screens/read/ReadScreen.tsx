import { useCallback } from 'react';
import { compileEnvelope, envelopeValue } from '@imprint/core/patch/envelopeCurve';
import { noteName } from '@imprint/core/dsp/pitch';
import { formatValue } from '@imprint/core/parameters/format';
import type { Unit } from '@imprint/core/parameters/parameter';
import type { Reading } from '@imprint/core/reading/schema';
import { NeedsReading } from '../../components/NeedsReading';
import { Chart } from '../../drawing/Chart';
import type { Inks } from '../../drawing/inks';
import { curvesOption, partialsOption } from '../../drawing/overprintOptions';
import { seriesPoints } from '../../drawing/seriesPoints';
import { readingOf, useStudyStore } from '../../stores/studyStore';
import { AcrossCard } from './AcrossCard';
import { DirtCard } from './DirtCard';
import { MotionCard } from './MotionCard';
import { NoiseCard } from './NoiseCard';
import { SpaceCard } from './SpaceCard';
import { TraitCard } from './TraitCard';
import { UnisonCard } from './UnisonCard';
import { WidthCard } from './WidthCard';

/** What was measured of the chosen cut. */
export function ReadScreen() {
  return (
    <NeedsReading>
      <Cards />
    </NeedsReading>
  );
}

function Cards() {
  const reading = useStudyStore(readingOf)!;
  return (
    <div className="grid h-full auto-rows-auto grid-cols-2 content-start overflow-y-auto [container-type:size]">
      <PitchCard reading={reading} />
      <LoudnessCard reading={reading} />
      <BrightnessCard reading={reading} />
      <PartialsCard reading={reading} />
      <UnisonCard reading={reading} />
      <WidthCard reading={reading} />
      <MotionCard reading={reading} />
      <NoiseCard reading={reading} />
      <SpaceCard reading={reading} />
      <DirtCard reading={reading} />
      <AcrossCard />
    </div>
  );
}

const show = (value: number | null, unit: Unit) => (value === null ? null : formatValue(value, unit));
const seconds = { unit: 's' as const };

function PitchCard({ reading }: { reading: Reading }) {
  const { f0Hz, midi, cents, contour, vibrato, sweep, confidence } = reading.traits.pitch;
  const option = useCallback(
    (inks: Inks) => {
      const points = seriesPoints(contour, (hz) => (f0Hz ? 1200 * Math.log2(hz / f0Hz) : hz));
      const inRange = points.map(([x, y]): [number, number | null] => [x, y !== null && Math.abs(y) <= 100 ? y : null]);
      return curvesOption(
        {
          reference: inRange,
          x: { ...seconds, min: 0, max: reading.durationSeconds },
          y: { unit: 'ct', min: -60, max: 60 },
        },
        inks,
      );
    },
    [contour, f0Hz, reading.durationSeconds],
  );
  return (
    <TraitCard
      title="Pitch"
      confidence={confidence}
      headline={midi === null || cents === null ? 'no pitch found' : `${noteName(midi)} ${formatValue(cents, 'ct')}`}
      meaning={
        f0Hz === null || midi === null || cents === null
          ? 'Nothing in this cut repeats steadily. A cut with one note alone has a pitch.'
          : [
              `Set the octave so that the patch plays ${noteName(midi)}, and Fine to ${formatValue(cents, 'ct')}.`,
              sweep &&
                `It starts ${formatValue(sweep.semitones, 'st')} off and is there after ${formatValue(sweep.seconds, 's')}: an envelope to pitch.`,
              vibrato &&
                `An LFO of ${formatValue(vibrato.rateHz, 'Hz')} moves it by ±${vibrato.depthCents.toFixed(0)} ct.`,
            ]
              .filter(Boolean)
              .join(' ')
      }
      values={[
        { label: 'Fundamental', value: f0Hz === null ? null : `${f0Hz.toFixed(2)} Hz` },
        {
          label: 'Notes',
          value:
            reading.notes
              .map((note) => noteName(note.midi))
              .slice(0, 6)
              .join(' ') || null,
        },
        {
          label: 'Vibrato',
          value: vibrato && `${formatValue(vibrato.rateHz, 'Hz')}, ±${vibrato.depthCents.toFixed(0)} ct`,
        },
        { label: 'From', value: vibrato && formatValue(vibrato.onsetSeconds, 's') },
      ]}
    >
      <Chart className="h-full min-h-[130px]" option={option} label="Pitch over time, cents from the fundamental" />
    </TraitCard>
  );
}

function LoudnessCard({ reading }: { reading: Reading }) {
  const trait = reading.traits.loudness;
  const option = useCallback(
    (inks: Inks) => {
      const points = seriesPoints(trait.contour);
      return curvesOption(
        {
          reference: points.map(([x, y]) => [x, y === null ? null : Math.max(-80, y)]),
          fitted: fittedCurve(reading),
          x: { ...seconds, min: 0, max: reading.durationSeconds },
          y: { unit: 'dB', min: -80, max: 0 },
        },
        inks,
      );
    },
    [trait, reading],
  );
  const sustains = trait.sustainDb !== null && trait.sustainDb > -40;
  return (
    <TraitCard
      title="Loudness"
      confidence={trait.confidence}
      headline={trait.lufs === null ? 'too quiet to tell' : `${trait.lufs.toFixed(1)} LUFS`}
      meaning={`An envelope with ${show(trait.attackSeconds, 's')} attack${
        (trait.holdSeconds ?? 0) > 0.01 ? `, ${show(trait.holdSeconds, 's')} hold` : ''
      }, ${show(trait.decaySeconds, 's')} decay to ${sustains ? show(trait.sustainDb, 'dB') : 'silence'}${
        trait.releaseSeconds === null
          ? '; the end of the note is not in the cut'
          : `, ${show(trait.releaseSeconds, 's')} release`
      }.`}
      values={[
        { label: 'Attack', value: show(trait.attackSeconds, 's') },
        { label: 'Hold', value: show(trait.holdSeconds, 's') },
        { label: 'Decay', value: show(trait.decaySeconds, 's') },
        { label: 'Sustain', value: show(trait.sustainDb, 'dB') },
        { label: 'Release', value: show(trait.releaseSeconds, 's') },
        { label: 'Crest', value: show(trait.crestDb, 'dB') },
      ]}
    >
      <Chart
        className="h-full min-h-[130px]"
        option={option}
        label="Level over time, with the fitted envelope dashed"
      />
    </TraitCard>
  );
}

const CURVE_POINTS = 240;

/** The fitted envelope as a line in dB. */
function fittedCurve({ traits: { loudness }, durationSeconds }: Reading): [number, number][] {
  const {
    onsetSeconds,
    attackSeconds,
    holdSeconds,
    decaySeconds,
    sustainDb,
    releaseSeconds,
    noteOffSeconds,
    fullLevelDb,
  } = loudness;
  if (onsetSeconds === null || attackSeconds === null || decaySeconds === null || sustainDb === null) return [];
  const program = compileEnvelope({
    attackSeconds,
    holdSeconds: holdSeconds ?? 0,
    decaySeconds,
    sustainDb,
    releaseSeconds: releaseSeconds ?? 0,
  });
  const off = noteOffSeconds === null ? Infinity : noteOffSeconds - onsetSeconds;
  return Array.from({ length: CURVE_POINTS }, (_, i) => {
    const at = (durationSeconds * i) / (CURVE_POINTS - 1);
    const value = envelopeValue(program, at - onsetSeconds, off);
    return [at, Math.max(-80, (fullLevelDb ?? 0) + 20 * Math.log10(value + 1e-6))];
  });
}

function BrightnessCard({ reading }: { reading: Reading }) {
  const { centroidHz, cutoffHz, slopeDbPerOctave, sweep, contour, cutoffContour, confidence } =
    reading.traits.brightness;
  const option = useCallback(
    (inks: Inks) =>
      curvesOption(
        {
          reference: seriesPoints(contour),
          fitted: seriesPoints(cutoffContour),
          x: { ...seconds, min: 0, max: reading.durationSeconds },
          y: { unit: 'Hz', log: true, min: 50, max: 20000 },
        },
        inks,
      ),
    [contour, cutoffContour, reading.durationSeconds],
  );
  const filter = `a ${slopeDbPerOctave} dB low-pass`;
  return (
    <TraitCard
      title="Brightness"
      confidence={confidence}
      headline={centroidHz === null ? 'nothing to measure' : `centroid ${formatValue(centroidHz, 'Hz')}`}
      meaning={
        sweep
          ? `${filter[0].toUpperCase()}${filter.slice(1)} going from ${show(sweep.fromHz, 'Hz')} to ${show(sweep.toHz, 'Hz')} in ${show(sweep.seconds, 's')}.`
          : cutoffHz === null
            ? 'Without a pitch no filter can be told from the source.'
            : `It sounds like ${filter} standing at ${show(cutoffHz, 'Hz')}.`
      }
      values={[
        { label: 'Cutoff, middle', value: show(cutoffHz, 'Hz') },
        { label: 'Slope', value: slopeDbPerOctave === null ? null : `${slopeDbPerOctave} dB/oct` },
        { label: 'From', value: sweep ? show(sweep.fromHz, 'Hz') : null },
        { label: 'To', value: sweep ? show(sweep.toHz, 'Hz') : null },
      ]}
    >
      <Chart
        className="h-full min-h-[130px]"
        option={option}
        label="Spectral centroid over time, with the explaining cutoff dashed"
      />
    </TraitCard>
  );
}

const SHOWN_PARTIALS = 32;

const inharmonicityWords = (inharmonicity: number | null) =>
  inharmonicity === null ? null : inharmonicity === 0 ? 'harmonic' : inharmonicity.toExponential(1);

function PartialsCard({ reading }: { reading: Reading }) {
  const { levelsDb, nearestShape, pulseWidth, oddMinusEvenDb, tiltDbPerOctave, standout, inharmonicity, confidence } =
    reading.traits.partials;
  const option = useCallback(
    (inks: Inks) => partialsOption(levelsDb.slice(0, SHOWN_PARTIALS), undefined, inks),
    [levelsDb],
  );
  const shape = nearestShape === 'pulse' ? `pulse, ${Math.round(100 * (pulseWidth ?? 0.5))} % wide` : nearestShape;
  const hollow = oddMinusEvenDb !== null && oddMinusEvenDb > 9;
  return (
    <TraitCard
      title="Partials"
      confidence={confidence}
      headline={shape === null ? 'no partials found' : `nearest to a ${shape}`}
      meaning={
        shape === null
          ? 'Without a pitch there are no partials to count.'
          : `Start from a ${nearestShape}${hollow ? ': hollow, the odd partials lead' : ''}.${standout.length > 0 ? ` Partial ${standout.slice(0, 3).join(', ')} stands out.` : ''}`
      }
      values={[
        { label: 'Tilt', value: tiltDbPerOctave === null ? null : `${tiltDbPerOctave.toFixed(1)} dB/oct` },
        { label: 'Odd over even', value: show(oddMinusEvenDb, 'dB') },
        { label: 'Inharmonicity', value: inharmonicityWords(inharmonicity) },
        { label: 'Standing out', value: standout.slice(0, 4).join(', ') || null },
      ]}
    >
      <Chart className="h-full min-h-[130px]" option={option} label="Levels of the partials" />
    </TraitCard>
  );
}
