import type { Tone } from '@imprint/core/matching/comparison';
import { heardLoudness } from '@imprint/core/reading/level/heardLoudness';
import { widthOverTime } from '@imprint/core/reading/movement/widthOverTime';
import { createMomentReader } from '@imprint/core/reading/spectra/moment';
import { toMono } from '@imprint/core/reading/audio';
import { phraseOf } from '@imprint/core/matching/phrase';
import { client } from '../../api/client';
import { unpacked } from '../../keeping/contents';
import type { Choice } from '../../stores/comparedStore';
import { keptOf } from '../../stores/cuts';
import { cutOf, readingOf, useStudyStore } from '../../stores/studyStore';
import { toneApi } from '../../stores/threads';
import { progress } from '../../workers/workers';

/** The sound behind a choice, and what was measured of it. Throws what keeps it from being had. */
export async function toneOf(choice: Choice): Promise<Tone> {
  const state = useStudyStore.getState();
  const cut = cutOf(state)!;
  const reading = readingOf(state)!;
  const [kind, id, candidateId] = choice.split(' ');
  if (kind === 'proof') {
    const response = await fetch(`/api/proofs/${id}/audio`);
    if (!response.ok) throw new Error('The proof is no longer there.');
    return toneApi().tone(new Uint8Array(await response.arrayBuffer()), reading);
  }
  const reference = { audio: await keptOf(cut, () => {}), reading };
  if (kind === 'reference') return reference;
  if (kind === 'patch') return state.proof!;
  const { candidates } = await client.run(id);
  const candidate = candidates.find((one) => one.id === candidateId);
  if (!candidate) throw new Error('The candidate is no longer there.');
  return toneApi().printProof(
    await unpacked(candidate.patch),
    phraseOf(reading),
    reference,
    progress(() => {}),
  );
}

/** One of the two that are compared, made ready for drawing. */
export type Side = ReturnType<typeof sideOf>;

export function sideOf({ audio, reading }: Tone) {
  const mono = toMono(audio);
  return {
    audio,
    reading,
    mono,
    lufs: heardLoudness(reading) ?? 0,
    width: widthOverTime(audio),
    moment: createMomentReader(mono, audio.sampleRateHz),
  };
}
