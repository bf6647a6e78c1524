import { soundOf } from '../packages/core/test/made/evidence';
import { madeTone } from '../packages/core/test/made/tones';
import { readTone } from '../packages/core/src/reading/read';
const a = soundOf(...madeTone('saw over a sine sub', 31).channels);
const r = readTone(a);
console.log(
  JSON.stringify(r.notes),
  JSON.stringify(r.traits.sources.parts),
  r.traits.pitch.f0Hz,
  a.channels[0].length / a.sampleRateHz,
);
