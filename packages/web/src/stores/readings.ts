import type { Cut } from '@imprint/contract/api';
import { emptyPatch } from '@imprint/core/patch/defaults';
import { pieceTraits } from '@imprint/core/reading/piece/piece';
import type { ReadingContext } from '@imprint/core/reading/read';
import type { Reading } from '@imprint/core/reading/schema';
import { client } from '../api/client';
import { outbox } from '../keeping/keeping';
import { progress } from '../workers/workers';
import { keepReading, keptOf } from './cuts';
import { usePatchStore } from './patchStore';
import { cutOf, useStudyStore } from './studyStore';
import { toneApi } from './threads';
import { doWork } from './work';

const { getState } = useStudyStore;

/** What the whole file tells about a cut. */
const pieceContext = (): ReadingContext => {
  const { piece, study } = getState();
  if (!piece) return {};
  const traits = pieceTraits(piece);
  return { piece: study?.grid ? { ...traits, tempo: { bpm: study.grid.bpm, confidence: 1 } } : traits };
};

/** Measures the chosen cut. */
export async function readCut(): Promise<void> {
  const cut = cutOf(getState());
  if (!cut) return;
  const reading = await doWork('Measuring the cut', async (report) =>
    toneApi().read(await keptOf(cut, report), pieceContext(), progress(report)),
  );
  if (reading) await storeReading(cut, reading);
}

/**
 * Measures every cut that has no reading yet, one after the other; what was measured before a cancel stays.
 */
export async function readAllCuts(): Promise<void> {
  const { cuts } = getState();
  for (const [i, cut] of cuts.entries()) {
    const kept = getState().readings[cut.id] ?? (await client.reading(cut.id))?.reading;
    if (kept) {
      keepReading(cut.id, kept);
      continue;
    }
    const title = `Measuring cut ${i + 1} of ${cuts.length}`;
    const reading = await doWork(title, async (report) =>
      toneApi().read(await keptOf(cut, report), pieceContext(), progress(report)),
    );
    if (!reading) return;
    await storeReading(cut, reading);
  }
}

/** Shows a reading of a cut and keeps it, unless the cut was moved or deleted while it was measured. */
async function storeReading(cut: Cut, reading: Reading): Promise<boolean> {
  const { study, cuts } = getState();
  const now = cuts.find(({ id }) => id === cut.id);
  const { fromSeconds, toSeconds, isolation } = cut;
  if (!study || now?.fromSeconds !== fromSeconds || now.toSeconds !== toSeconds || now.isolation !== isolation)
    return false;
  keepReading(cut.id, reading);
  const body = { fromSeconds, toSeconds, reading };
  outbox.put({ kind: 'reading', id: cut.id, studyId: study.id, base: null, body });
  await outbox.flush();
  return true;
}

/** Starts over with one plain saw behind an open low-pass; Undo brings back what was there. */
export function startEmpty(): void {
  const { study } = getState();
  if (study) usePatchStore.getState().setPatch(emptyPatch(study.title));
}
