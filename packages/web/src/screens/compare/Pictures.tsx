import { useQuery } from '@tanstack/react-query';
import { useCallback } from 'react';
import type { AverageSpectrum } from '@imprint/core/reading/spectra/averageSpectrum';
import { heardLoudness } from '@imprint/core/reading/level/heardLoudness';
import type { Series } from '@imprint/core/reading/documentParts';
import type { Reading } from '@imprint/core/reading/schema';
import { Message } from '../../components/Message';
import { Chart } from '../../drawing/Chart';
import type { Inks } from '../../drawing/inks';
import { type OverprintCurves, curvesOption, partialsOption } from '../../drawing/overprintOptions';
import { seriesPoints } from '../../drawing/seriesPoints';
import { audioOf, cutOf, readingOf, useStudyStore } from '../../stores/studyStore';
import { toneApi } from '../../stores/threads';

/** Reference and patch printed over one another. */
export function Pictures() {
  const reading = useStudyStore(readingOf)!;
  const proof = useStudyStore((state) => state.proof);
  if (!proof) {
    return (
      <Message title="Printing the patch over the cut">
        <progress className="progress w-80" />
      </Message>
    );
  }
  return (
    <div className="grid h-full grid-cols-2 grid-rows-[1.15fr_1fr_1fr] overflow-y-auto">
      <div className="col-span-2">
        <SpectrumPrint />
      </div>
      <div className="col-span-2">
        <PartialsPrint reference={reading} patch={proof.reading} />
      </div>
      <ContourPrint
        title="Level over time"
        reference={reading.traits.loudness.contour}
        patch={proof.reading.traits.loudness.contour}
        // Loudness does not show as a gap.
        referenceZero={heardLoudness(reading) ?? 0}
        patchZero={heardLoudness(proof.reading) ?? 0}
        durationSeconds={reading.durationSeconds}
        y={levelAxis}
      />
      <ContourPrint
        title="Brightness over time"
        reference={reading.traits.brightness.contour}
        patch={proof.reading.traits.brightness.contour}
        durationSeconds={reading.durationSeconds}
        y={brightnessAxis}
      />
    </div>
  );
}

function Print({ title, note, children }: { title: string; note?: string; children: React.ReactNode }) {
  return (
    <section aria-label={title} className="hairline-b hairline-r flex h-full min-h-[170px] flex-col p-3">
      <h2 className="flex items-baseline gap-2">
        <span className="title text-base">{title}</span>
        <span className="text-soft">{note}</span>
      </h2>
      <div className="min-h-0 grow">{children}</div>
    </section>
  );
}

function SpectrumPrint() {
  const cut = useStudyStore(cutOf)!;
  const reading = useStudyStore(readingOf)!;
  const proof = useStudyStore((state) => state.proof)!;
  const reference = useQuery({
    queryKey: ['spectrum', cut.id, cut.fromSeconds, cut.toSeconds],
    queryFn: () => toneApi().spectrum(audioOf(cut)),
    staleTime: Infinity,
  });
  const patch = useQuery({
    queryKey: ['spectrum', 'proof', proof.comparison, proof.audio.channels[0].length],
    queryFn: () => toneApi().spectrum(proof.audio),
    staleTime: Infinity,
    placeholderData: (previous) => previous,
  });
  const match = (heardLoudness(reading) ?? 0) - (heardLoudness(proof.reading) ?? 0);
  const option = useCallback(
    (inks: Inks) =>
      curvesOption(
        {
          reference: points(reference.data, 0),
          patch: points(patch.data, match),
          x: { unit: 'Hz', log: true, min: 25, max: 20000 },
          y: { unit: 'dB', min: -100, max: 0 },
        },
        inks,
      ),
    [reference.data, patch.data, match],
  );
  return (
    <Print title="Spectrum" note="mean over the cut, at equal loudness">
      <Chart className="h-full" option={option} label="Mean spectra: reference filled, patch as a line" />
    </Print>
  );
}

const points = (spectrum: AverageSpectrum | undefined, liftDb: number): [number, number][] =>
  spectrum ? spectrum.centresHz.map((hz, i) => [hz, Math.max(-100, spectrum.levelsDb[i] + liftDb)]) : [];

const SHOWN_PARTIALS = 48;

function PartialsPrint({ reference, patch }: { reference: Reading; patch: Reading }) {
  const a = reference.traits.partials.levelsDb;
  const b = patch.traits.partials.levelsDb;
  const option = useCallback(
    (inks: Inks) => partialsOption(a.slice(0, SHOWN_PARTIALS), b.slice(0, SHOWN_PARTIALS), inks),
    [a, b],
  );
  return (
    <Print title="Partials" note="under the strongest; reference left, patch right, black where they agree">
      <Chart className="h-full" option={option} label="Partials: reference left, patch right" />
    </Print>
  );
}

type ContourAxis = OverprintCurves['y'] & { min: number; max: number };

const levelAxis: ContourAxis = { unit: 'dB', min: -48, max: 18 };
const brightnessAxis: ContourAxis = { unit: 'Hz', log: true, min: 50, max: 12000 };

interface ContourPrintProps {
  title: string;
  reference: Series;
  patch: Series;
  /** What is taken off each side. */
  referenceZero?: number;
  patchZero?: number;
  durationSeconds: number;
  y: ContourAxis;
}

function ContourPrint({
  title,
  reference,
  patch,
  referenceZero = 0,
  patchZero = 0,
  durationSeconds,
  y,
}: ContourPrintProps) {
  const option = useCallback(
    (inks: Inks) => {
      const curve = (series: Series, zero: number) =>
        seriesPoints(series, (value) => Math.min(y.max, Math.max(y.min, value - zero)));
      return curvesOption(
        {
          reference: curve(reference, referenceZero),
          patch: curve(patch, patchZero),
          x: { unit: 's', min: 0, max: durationSeconds },
          y,
        },
        inks,
      );
    },
    [reference, patch, referenceZero, patchZero, durationSeconds, y],
  );
  return (
    <Print title={title}>
      <Chart className="h-full" option={option} label={`${title}: reference filled, patch as a line`} />
    </Print>
  );
}
