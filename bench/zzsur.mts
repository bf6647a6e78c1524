import { soundOf } from '../packages/core/test/made/evidence';
import {
  MADE_RATE_HZ,
  type Signal,
  createRandom,
  falling,
  hzOf,
  level,
  lengthOf,
  mixed,
  noise,
  shaped,
  sine,
  tone,
  twoPole,
} from '../packages/core/test/made/parts';
import { madeTones } from '../packages/core/test/made/tones';
import { createJudge } from '../packages/core/src/matching/search/judge';
import { matchTone } from '../packages/core/src/matching/match';
import { isolate } from '../packages/core/src/reading/isolation/isolate';
import { NO_ISOLATION } from '../packages/core/src/reading/isolation/settings';
import { suggestIsolation } from '../packages/core/src/reading/isolation/suggestIsolation';
import { readTone } from '../packages/core/src/reading/read';
import { Listener } from '../packages/core/src/matching/distance/listeningDistance';
import { heardOf } from '../packages/core/src/matching/comparison';
const SEED = Number(process.env.SEED ?? 101),
  R = Number(process.env.R ?? 200);
const ONLY = process.env.ONLY
  ? new RegExp(process.env.ONLY)
  : /sine pluck with|filtered saw bass over|three saws behind|^saw over a sine|square lead with v|brassy|metal with a high|slow pad of two/;
const KINDS = (process.env.KINDS ?? 'drums,chord').split(',');
const powerOf = (s: Signal) => s.reduce((a, x) => a + x * x, 0) / s.length;
function drums(seconds: number, _m: number, seed: number): Signal {
  const out = new Float64Array(lengthOf(seconds));
  const random = createRandom(seed);
  const add = (at: number, sound: Signal, gain: number) => {
    const from = lengthOf(at);
    for (let i = 0; i < sound.length && from + i < out.length; i++) out[from + i] += gain * sound[i];
  };
  const drop = falling(150, 48, 0.03);
  const kick = shaped(
    tone({ seconds: 0.3, hz: 48, amplitude: sine, semitones: (t) => 12 * Math.log2(drop(t) / 48) }),
    level({ attack: 0.001, decay: 0.09, sustain: 0 }),
  );
  const burst = (length: number, decay: number) =>
    shaped(noise(length, random), level({ attack: 0.001, decay, sustain: 0 }));
  for (let beat = 0; beat * 0.5 < seconds; beat++) {
    add(beat * 0.5, kick, beat % 2 === 0 ? 1 : 0);
    add(beat * 0.5, burst(0.2, 0.06), beat % 2 === 1 ? 0.5 : 0);
    add(
      beat * 0.5 + 0.25,
      twoPole(burst(0.08, 0.02), 'high', () => 6000, 0.7),
      0.5,
    );
  }
  return out;
}
function chord(seconds: number, midi: number, seed: number): Signal {
  const random = createRandom(seed);
  return twoPole(
    mixed(...[4, 9, 16].map((step) => tone({ seconds, hz: hzOf(midi + step), phase: random() }))),
    'low',
    () => 1800,
    0.7,
  );
}
const iso = {
  drums: { ...NO_ISOLATION, character: 'tonal', hitsDown: true },
  chord: { ...NO_ISOLATION, partialsOnly: true },
  drumsP: { ...NO_ISOLATION, partialsOnly: true, hitsDown: true, withSub: true },
  chordS: { ...NO_ISOLATION, partialsOnly: true, withSub: true },
  drumsA: { ...NO_ISOLATION, hitsDown: true },
  drumsTP: { ...NO_ISOLATION, character: 'tonal', partialsOnly: true, hitsDown: true, withSub: true },
} as const;
const par = (n: string) => n;
let gAlone = 0,
  gn = 0;
const g: Record<string, number[]> = {};
for (const made of madeTones(SEED).filter(({ name }) => ONLY.test(name))) {
  try {
    const clean = soundOf(...made.channels);
    const reading = readTone(clean);
    const { notes } = reading;
    let own = NaN;
    let judge: any;
    if (R > 0) {
      const alone = await matchTone(clean, { renders: R, structure: 'plain' });
      own = alone.candidates[0].overallJnd;
      judge = createJudge([{ audio: clean, reading, notes: alone.notes, seed: 1 }], 'full');
    }
    let line = `${made.name.slice(0, 38).padEnd(38)} alone ${own.toFixed(2)}`;
    const listener = new Listener(clean, heardOf({ reading }));
    for (const kind of KINDS) {
      const around = (kind.startsWith('drums') ? drums : chord)(
        made.channels[0].length / MADE_RATE_HZ,
        notes[0].midi,
        SEED,
      );
      const gain = Math.sqrt(powerOf(made.channels[0]) / powerOf(around)) * 10 ** (-8 / 20);
      const mix = soundOf(...made.channels.map((c) => c.map((x, i) => x + gain * around[i])));
      const sugg = suggestIsolation(mix, { ...readTone(mix), notes });
      const isolation: any = process.env.SUGGEST ? (sugg?.isolation ?? NO_ISOLATION) : (iso as any)[kind];
      if (process.env.SUGGEST)
        line +=
          ' ' +
          JSON.stringify(sugg?.isolation ?? null)
            .replace(/"/g, '')
            .slice(0, 130);
      const done = isolate(mix, isolation, notes);
      const d0 = listener.compare(mix).overallJnd,
        dk = listener.compare(done.kept);
      line += ` | ${kind}: mix ${d0.toFixed(1)} kept ${dk.overallJnd.toFixed(1)}`;
      if (process.env.PARTS)
        line += ` (${Object.entries(dk.parts)
          .map(([k, v]) => `${k} ${v.toFixed(1)}`)
          .join(' ')})`;
      if (R > 0) {
        const o: any = { renders: R, structure: 'plain' };
        if (process.env.SURROUND) o.surroundings = done.leftOut;
        const found = await matchTone(done.kept, o);
        const far = await createJudge([{ audio: clean, reading, notes: found.notes, seed: 1 }], 'full').distance(
          found.candidates[0].patch,
        );
        (g[kind] ??= []).push(far);
        if (process.env.DUMP) {
          const { renderPatch } = await import('../packages/core/src/engine/render');
          const ch = renderPatch({
            patch: found.candidates[0].patch,
            notes: found.notes,
            sampleRateHz: 44100,
            seconds: clean.channels[0].length / 44100,
          });
          const lv = (s: any, a: number, b: number) => {
            let t = 0;
            for (let i = Math.floor(a * 44100); i < b * 44100 && i < s.length; i++) t += s[i] ** 2;
            return (10 * Math.log10(t / ((b - a) * 44100) + 1e-12)).toFixed(1);
          };
          console.log(
            'clean|kept|found levels',
            [0, 0.02, 0.05, 0.1, 0.2, 0.4, 0.7, 1, 1.3, 1.5, 1.7]
              .map((t, i, l) =>
                i ? [clean.channels[0], done.kept.channels[0], ch[0]].map((s) => lv(s, l[i - 1], t)).join('|') : '',
              )
              .join('  '),
          );
          console.log(JSON.stringify(listener.compare({ channels: ch, sampleRateHz: 44100 }).parts));
        }
        line += ` found ${far.toFixed(2)} (own ${found.candidates[0].overallJnd.toFixed(2)})`;
        if (process.env.WHY)
          line += '\n   ' + found.candidates[0].why.join('\n   ') + '\n   notes ' + JSON.stringify(found.notes);
      }
    }
    console.log(line);
    gAlone += Math.log(own);
    gn++;
  } catch (e) {
    console.log(made.name, (e as Error).message);
  }
}
console.log(
  'alone geo',
  Math.exp(gAlone / gn).toFixed(2),
  Object.entries(g)
    .map(
      ([k, v]) =>
        `${k} geo ${Math.exp(v.reduce((s, x) => s + Math.log(x), 0) / v.length).toFixed(2)} mean ${(v.reduce((s, x) => s + x, 0) / v.length).toFixed(2)}`,
    )
    .join('; '),
);
