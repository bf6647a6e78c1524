import { tones, rngOf } from './zzown2.mts';
import { measure } from '../packages/core/src/reading/read';
for (const SEED of [21, 51]) {
  const r = rngOf(1000 * SEED + 6);
  const audio = tones['pluck with click'](rngOf(1000 * SEED + 6));
  const u = (a: number, b: number) => a + (b - a) * r();
  const midi = Math.floor(u(48, 64)),
    d = u(0.06, 0.2),
    dl = u(0.2, 0.35);
  const m = measure(audio);
  console.log(
    midi,
    'd',
    d.toFixed(3),
    'dl',
    dl.toFixed(4),
    m.reading.traits.space.echo,
    m.filter && { ...m.filter, seconds: 0, cutoffHz: 0 },
  );
  if (m.filter)
    for (let i = 0; i < m.filter.seconds.length && m.filter.seconds[i] < 0.7; i += 3)
      console.log(
        m.filter.seconds[i].toFixed(3),
        m.filter.cutoffHz[i].toFixed(0),
        (300 + 7000 * Math.exp(-m.filter.seconds[i] / d)).toFixed(0),
      );
}
