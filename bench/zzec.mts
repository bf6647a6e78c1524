import { diceOf } from '../packages/core/test/made/madeTone';
import { makers } from '../packages/core/test/made/tones';
import { readTone } from '../packages/core/src/reading/read';
for (const seed of [31, 32, 33])
  for (const [name, make] of Object.entries(makers)) {
    const made = make(diceOf(seed));
    const r = readTone({ channels: made.channels.map((c) => Float32Array.from(c)), sampleRateHz: 44100 });
    const e = r.traits.space.echo;
    const has = made.has.includes('echo' as never);
    if (e || has) console.log(seed, name, has, e && [e.seconds, e.feedback, e.levelDb].join(' '));
  }
