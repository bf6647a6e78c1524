import { gainFromDecibels } from '../dsp/decibels';
import { integratedLoudness } from '../dsp/loudness';
import { type PhraseNote, renderPatch } from '../engine/render';
import { clampToRange } from '../parameters/parameter';
import { parameterTable } from '../parameters/table';
import type { Patch } from '../patch/schema';
import { type Audio, durationOf } from '../reading/audio';
import { heardLoudnessOf } from '../reading/level/heardLoudness';
import { preparedOf } from './prepared';

/** A patch with the level of its first layer set so that its notes are as loud as a sound. */
export function asLoudAs(patch: Patch, notes: readonly PhraseNote[], audio: Audio): Patch {
  const copy = { ...patch, layers: patch.layers.map((layer) => ({ ...layer })) };
  matchLoudness(copy, notes, audio, heardLoudnessOf(audio));
  return copy;
}

/** Sets the layer's level so that a print is as loud as the cut. */
export function matchLoudness(patch: Patch, notes: readonly PhraseNote[], audio: Audio, lufs: number | null): void {
  if (lufs === null) return;
  const [layer] = patch.layers;
  const proof = renderPatch({
    patch,
    notes,
    sampleRateHz: audio.sampleRateHz,
    seconds: durationOf(audio),
    resources: preparedOf(patch),
  });
  let liftDb = 0;
  // Loudness is gated at an absolute level, so a lift of x dB does not make it x dB louder at once.
  for (let pass = 0; pass < 3; pass++) {
    const gain = gainFromDecibels(liftDb);
    const own = integratedLoudness(
      proof.map((channel) => channel.map((x) => gain * x)),
      audio.sampleRateHz,
    );
    if (!Number.isFinite(own)) return;
    liftDb += lufs - own;
  }
  layer.levelDb = Math.round(clampToRange(parameterTable.layer.levelDb, layer.levelDb + liftDb) * 100) / 100;
}
