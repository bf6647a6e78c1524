import { createEffectChain } from '../src/engine/effects/chain/effectChain';
import { NOTHING_AROUND } from '../src/engine/effects/chain/effect';
import { chainTailSeconds } from '../src/engine/effects/chain/tail';
import { createGuard } from '../src/engine/output/guard';
import { compileSum } from '../src/engine/chains/sumChain';
import { NO_RESOURCES } from '../src/engine/program/resources';
import { BLOCK_SAMPLES } from '../src/engine/sources/source';
import { divisions } from '../src/parameters/division';
import { parametersOf } from '../src/parameters/table';
import { effects } from '../src/parameters/effects';
import { type Choice, bandTitles, cutSlopes } from '../src/parameters/effects/choices';
import { effectSchema } from '../src/patch/schemas/effectSchema';
import type { Effect } from '../src/patch/schema';
import { createRandom, harmonicTone } from './signals';

const kinds = effectSchema.options.map((option) => option.shape.kind.value);

/** An effect of any kind with anything that the schema allows. */
export function randomEffect(random: () => number, id: string): Effect {
  const pick = <T>(values: readonly T[]) => values[Math.floor(random() * values.length)];
  const chance = (share: number) => random() < share;
  const kind = pick(kinds);
  const numbers = Object.entries(parametersOf(kind)).map(([name, { min, max, step }]) => {
    // The ends of a range are where things break: they come up often.
    const at = random();
    const value = at < 0.1 ? min : at > 0.9 ? max : min + random() * (max - min);
    return [name, step >= 1 ? Math.round(value) : value];
  });
  const choices = Object.entries<Choice>(effects[kind].choices).map(([name, choice]) => [
    name,
    randomChoice(choice, random),
  ]);
  return effectSchema.parse({
    kind,
    id,
    on: chance(0.9),
    ...Object.fromEntries(choices),
    ...Object.fromEntries(numbers),
  });
}

/** Anything that a choice allows, but for layers and samples, which are not there. */
function randomChoice(choice: Choice, random: () => number): unknown {
  const pick = <T>(values: readonly T[]) => values[Math.floor(random() * values.length)];
  const chance = (share: number) => random() < share;
  switch (choice.of) {
    case 'oneOf':
      return pick(Object.keys(choice.titles));
    case 'switch':
      return chance(0.3);
    case 'division':
      return pick(divisions);
    case 'optionalDivision':
      return chance(0.4) ? pick(divisions.slice(0, 22)) : null;
    case 'layer':
    case 'sample':
      return null;
    case 'line': {
      const { x, y } = choice;
      const level = () => y[0] + random() * (y[1] - y[0]);
      return [x[0], (x[0] + x[1]) / 2, x[1]].map((at) => ({ x: at, y: level() }));
    }
    case 'pattern':
      return choice.default.map(() => chance(0.3));
    case 'bands':
      return Array.from({ length: choice.count }, () => ({
        kind: chance(0.5) ? 'off' : pick(Object.keys(bandTitles)),
        slopeDbPerOctave: pick(cutSlopes),
      }));
  }
}

const RATE_HZ = 44100;
const BPM = 120;
const MOST_EFFECTS = 6;
const HEARD_SECONDS = 0.25;
const MOST_TAIL_SECONDS = 3;
/** Those that go on for longer are looked at for so long, at a quarter of the rate. */
const LONG_SECONDS = 12;
const LONG_RATE_HZ = RATE_HZ / 4;
/** Over this the guard of the output would have failed. */
const MOST_PEAK = 10 ** (12 / 20);
const FALL_DB = 60;
const GROWN_DB = 12;

/**
 * Puts a quarter of a second of noise at −12 dBFS through the chain of a seed, and silence for as long as the
 * chain says that it goes on, and says what is wrong with what comes out: no number, a peak over +12 dBFS
 * behind the output's guard, or a tail that has not fallen by 60 dB; of chains that go on for more than three
 * seconds, one that becomes louder after nine.
 */
export function faultOfChain(seed: number): string | undefined {
  const random = createRandom(seed);
  const effects = randomEffects(random);
  const { effects: programs, values } = compileSum({ bpm: BPM, macros: [], routes: [] }, effects, NO_RESOURCES);
  const tail = chainTailSeconds(effects, BPM);
  const long = tail > MOST_TAIL_SECONDS;
  const silence = long ? LONG_SECONDS : tail;
  const rateHz = long ? LONG_RATE_HZ : RATE_HZ;
  const chain = createEffectChain(rateHz, effects);
  const guard = createGuard(rateHz, BLOCK_SAMPLES);
  const around = { ...NOTHING_AROUND, noteHz: 110 };
  const levels: number[] = [];
  for (let at = 0; at < (HEARD_SECONDS + silence) * rateHz; at += BLOCK_SAMPLES) {
    const heard = at < HEARD_SECONDS * rateHz;
    const [left, right] = [0, 1].map(() =>
      Float64Array.from({ length: BLOCK_SAMPLES }, () => (heard ? 0.5 * (random() - 0.5) : 0)),
    );
    chain.run(programs, values, left, right, around);
    let sum = 0;
    for (let i = 0; i < BLOCK_SAMPLES; i++) sum += left[i] * left[i] + right[i] * right[i];
    if (!Number.isFinite(sum)) return `${nameOf(effects)}: a value that is no number`;
    levels.push(10 * Math.log10(sum / (2 * BLOCK_SAMPLES) + 1e-16));
    guard.run(left, right);
    for (let i = 0; i < BLOCK_SAMPLES; i++) {
      if (Math.max(Math.abs(left[i]), Math.abs(right[i])) > MOST_PEAK) return `${nameOf(effects)}: over +12 dBFS`;
    }
  }
  const loudest = levels.reduce((a, b) => Math.max(a, b), -Infinity);
  const last = levels.slice(-8).reduce((a, b) => Math.max(a, b), -Infinity);
  if (!long) {
    // What is under the noise of 16 bits is silence, whatever it has fallen from.
    if (last > Math.max(-96, loudest - FALL_DB)) return `${nameOf(effects)}: fell by ${(loudest - last).toFixed(0)} dB`;
  } else {
    // Late echoes may be louder than what they come from, but not by that much.
    const parted = Math.round(0.75 * levels.length);
    const [early, late] = [levels.slice(0, parted), levels.slice(parted)].map((part) =>
      part.reduce((a, b) => Math.max(a, b), -Infinity),
    );
    if (late > Math.max(-40, early + GROWN_DB)) return `${nameOf(effects)}: grew by ${(late - early).toFixed(0)} dB`;
  }
  return undefined;
}

function randomEffects(random: () => number): Effect[] {
  return Array.from({ length: 1 + Math.floor(MOST_EFFECTS * random()) }, (_, i) => randomEffect(random, `e${i}`));
}

const DC_RATE_HZ = 22050;
const MOST_DC_DB = -60;
/**
 * From when to when a constant is looked for; what looks like one in two seconds may be a slow movement, and
 * has to stay for six.
 */
const SHORT_SPAN = [1.2, 3.2] as const;
const LONG_SPAN = [3, 9] as const;

/**
 * Puts a tone at −12 dBFS, whose partials all begin together, through the chain of a seed, and says what is
 * wrong when a constant over −60 dBFS is left of it.
 */
export function dcFaultOfChain(seed: number): string | undefined {
  const random = createRandom(seed);
  const effects = randomEffects(random);
  const f0Hz = 40 + 300 * random();
  let db = constantDb(effects, f0Hz, SHORT_SPAN);
  if (db > MOST_DC_DB) db = constantDb(effects, f0Hz, LONG_SPAN);
  return db > MOST_DC_DB ? `${nameOf(effects)}: a constant of ${db.toFixed(1)} dBFS` : undefined;
}

function constantDb(effects: readonly Effect[], f0Hz: number, [fromSeconds, toSeconds]: readonly [number, number]) {
  const { effects: programs, values } = compileSum({ bpm: BPM, macros: [], routes: [] }, effects, NO_RESOURCES);
  const chain = createEffectChain(DC_RATE_HZ, effects);
  const around = { ...NOTHING_AROUND, noteHz: f0Hz };
  const tone = harmonicTone({ f0Hz, sampleRateHz: DC_RATE_HZ, seconds: toSeconds, amplitude: (n) => 1 / n });
  const from = Math.round(fromSeconds * DC_RATE_HZ);
  const sums = [0, 0];
  // Chains that lift by 100 dB are measured as if they were turned down to full scale.
  let peak = 1;
  for (let at = 0; at + BLOCK_SAMPLES <= tone.length; at += BLOCK_SAMPLES) {
    const sides = [0, 1].map(() => Float64Array.from(tone.subarray(at, at + BLOCK_SAMPLES), (x) => x / 2));
    chain.run(programs, values, sides[0], sides[1], around);
    sides.forEach((side, c) =>
      side.forEach((x, i) => {
        if (at + i < from) return;
        peak = Math.max(peak, Math.abs(x));
        // Under a Hann window, so that tones do not count.
        sums[c] += x * (1 - Math.cos((2 * Math.PI * (at + i - from)) / (tone.length - from)));
      }),
    );
  }
  return 20 * Math.log10(Math.max(...sums.map(Math.abs)) / (tone.length - from) / peak);
}

const nameOf = (effects: readonly Effect[]) => effects.map(({ kind }) => kind).join(' > ');
