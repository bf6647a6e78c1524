import { tones, rngOf } from './zzown2.mts';
import { matchTone } from '../packages/core/src/matching/match';
import { printProof } from '../packages/core/src/matching/proof';
import { Listener } from '../packages/core/src/matching/distance/listeningDistance';
import { heardOf } from '../packages/core/src/matching/comparison';
import { createFrameSpectrum } from '../packages/core/src/dsp/frameSpectrum';
import { writeFileSync } from 'node:fs';
const { SEED = '21', R = '200', NAME = 'pluck with click' } = process.env;
const i = Object.keys(tones).indexOf(NAME);
const audio = tones[NAME](rngOf(1000 * +SEED + i));
const m = await matchTone(audio, { renders: +R, structure: 'plain' });
const best = m.candidates[0];
writeFileSync('/tmp/best.json', JSON.stringify(best.patch, null, 1));
const proof = printProof(best.patch, m.notes, { audio, reading: m.reading });
const heard = heardOf({ reading: m.reading });
console.log(best.overallJnd, new Listener(audio, heard).compare(proof.audio).parts);
const bands = [60, 125, 250, 500, 1000, 2000, 4000, 8000, 16000];
const table = (x: ArrayLike<number>) => {
  const s = createFrameSpectrum(1024);
  const rows: number[][] = [];
  for (let t = 0; t < x.length; t += Math.round(0.03 * 44100)) {
    s.transform(x, t - 512);
    rows.push(
      bands.slice(1).map((hi, b) => {
        let p = 1e-9;
        for (let k = Math.ceil((bands[b] * 1024) / 44100); k < (hi * 1024) / 44100; k++)
          p += s.real[k] ** 2 + s.imaginary[k] ** 2;
        return 10 * Math.log10(p);
      }),
    );
  }
  return rows;
};
const a = table(audio.channels[0]),
  b = table(proof.audio.channels[0]);
console.log(
  't     ' +
    bands
      .slice(1)
      .map((x) => String(x).padStart(9))
      .join(''),
);
for (let t = 0; t < Math.min(a.length, 40); t++)
  console.log(
    (t * 0.03).toFixed(2),
    a[t].map((x, k) => `${x.toFixed(0)}/${(b[t]?.[k] ?? -90).toFixed(0)}`.padStart(9)).join(''),
  );
