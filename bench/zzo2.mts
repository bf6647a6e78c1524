import { tones, rngOf } from './zzown2.mts';
import { matchTone } from '../packages/core/src/matching/match';
const { SEED = '21', R = '300', ONLY, WHY } = process.env;
let i = 0;
for (const [name, f] of Object.entries(tones)) {
  const own = i++;
  if (ONLY && !ONLY.split(';').some((o) => name.includes(o))) continue;
  const audio = f(rngOf(1000 * +SEED + own));
  const t = performance.now();
  const m = await matchTone(audio, { renders: +R });
  const s = (performance.now() - t) / 1000;
  console.log(
    name.padEnd(28),
    m.candidates.map((c) => `${c.kind} ${c.overallJnd.toFixed(2)} (${c.settings})`).join('  '),
    s.toFixed(0) + ' s',
  );
  if (WHY) {
    for (const w of m.candidates.find((c) => c.kind === 'plain')!.why) console.log('     ', w);
    const b = m.reading.traits.brightness,
      l = m.reading.traits.loudness;
    console.log(
      '   ',
      JSON.stringify(m.reading.traits.sources.parts.map((p) => [p.shape, p.semitones, p.levelDb])),
      JSON.stringify(m.reading.traits.unison).slice(0, 150),
      m.reading.notes.map((n) => n.midi),
      l.decaySeconds,
      l.sustainDb,
    );
  }
}
