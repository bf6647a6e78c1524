import { type Comparison, compareTones } from '@imprint/core/matching/comparison';
import { readTone } from '@imprint/core/reading/read';
import { printJson, print, readSound } from '../files';

export async function compare(reference: string, proof: string, options: { json?: boolean }): Promise<void> {
  const [a, b] = [await readSound(reference), await readSound(proof)].map((audio) => ({
    audio,
    reading: readTone(audio),
  }));
  const comparison = compareTones(a, b);
  if (options.json) printJson(comparison);
  else print(...ledgerLines(comparison));
}

/** The ledger as text: a line a gap. */
export function ledgerLines({ overallJnd, listeningDb, traits }: Comparison): string[] {
  const value = (x: number | null, unit: string) => (x === null ? '' : `${Number(x.toPrecision(4))} ${unit}`);
  return [
    `${overallJnd.toFixed(2)} JND apart overall (${listeningDb?.toFixed(2)} dB in auditory bands)`,
    ...traits.map(
      ({ label, reference, proof, unit, gapJnd }) =>
        `${gapJnd.toFixed(2).padStart(7)}  ${label.padEnd(22)} ${value(reference, unit)}${reference === null ? '' : '  against  '}${value(proof, unit)}`,
    ),
  ];
}
