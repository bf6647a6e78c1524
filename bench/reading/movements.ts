import { divisionOf } from '../../packages/core/src/reading/piece/heardDivision';
import { measure } from '@imprint/core/reading/read';
import {
  ducking,
  lowpassed,
  phaser,
  sweeping,
  times,
  tremolo,
  voices,
  withDelay,
} from '../../packages/core/test/effects';
import { glidingLine } from '../../packages/core/test/glidingLine';
import { type Figure, RATE_HZ, check, createDice, held, near, read } from './figure';

const SECONDS = 4;
const BPM = 120;

/** Reads a tone in a piece whose tempo is known. */
function inPiece(sound: Float64Array) {
  const audio = { channels: [Float32Array.from(sound)], sampleRateHz: RATE_HZ };
  const piece = { tempo: { bpm: BPM, confidence: 1 }, key: { tonic: null, mode: null, confidence: 0 } };
  return measure(audio, () => {}, { piece }).reading.traits;
}

export const vibratos: Figure = {
  name: 'vibrato: rate within 2 %, depth within 15 %',
  share: 0.95,
  *checks() {
    const { between } = createDice(51);
    for (let i = 0; i < 16; i++) {
      const [f0Hz, rateHz, depth] = [between(60, 900), between(3.2, 8), between(8, 120)];
      const index = (f0Hz * (2 ** (depth / 1200) - 1)) / rateHz;
      const tone = voices({
        f0Hz,
        seconds: 2.5,
        seed: i + 1,
        // The phase of a pitch that moves as a sine, to first order.
        cycles: (t) => (-index / 2 / Math.PI) * Math.cos(2 * Math.PI * rateHz * t),
      });
      const { vibrato, confidence } = read(times(tone, held({ off: 2.3 }))).traits.pitch;
      const words = `${f0Hz.toFixed(0)} Hz`;
      yield check(`${words}, rate`, rateHz, vibrato?.rateHz, near(vibrato?.rateHz ?? null, rateHz, 0.02), confidence);
      yield check(
        `${words}, depth`,
        depth,
        vibrato?.depthCents,
        near(vibrato?.depthCents ?? null, depth, 0.15),
        confidence,
      );
    }
  },
};

interface Moving {
  cause: string;
  rateHz: number;
  depth: number;
  make: (f0Hz: number, seed: number) => Float64Array;
}

/** Movements at random rates and depths, one of every cause. */
function movingTones(seed: number): Moving[] {
  const { between, pick } = createDice(seed);
  const dry = (f0Hz: number, own: number) => voices({ f0Hz, seconds: SECONDS, seed: own });
  const rate = () => between(0.8, 6);
  const moving = (cause: string, rateHz: number, depth: number, make: Moving['make']): Moving => ({
    cause,
    rateHz,
    depth,
    make,
  });
  const [a, b, c, d, e] = [rate(), pick([1, 2]), between(0.8, 3), between(0.6, 1.6), between(0.5, 1.2)];
  const [depthA, depthB] = [between(2, 10), between(6, 15)];
  const [low, wide] = [between(400, 900), between(2, 5)];
  const slope = pick([12, 24] as const);
  const delay = between(0.001, 0.0035);
  return [
    moving('tremolo', a, depthA, (f0Hz, own) => times(dry(f0Hz, own), tremolo(a, depthA))),
    moving('ducking', b, depthB, (f0Hz, own) => times(dry(f0Hz, own), ducking(b, depthB))),
    moving('filter', c, Math.log2(wide), (f0Hz, own) =>
      voices({ f0Hz, seconds: SECONDS, seed: own, amplitude: lowpassed(f0Hz, sweeping(low, low * wide, c), slope) }),
    ),
    moving('phaser', d, 2.5, (f0Hz, own) => phaser(dry(f0Hz, own), sweeping(350, 350 * 2 ** 2.5, d), 4)),
    moving('chorus', e, 2000 * delay, (f0Hz, own) =>
      withDelay(dry(f0Hz, own), (t) => 0.012 + delay * Math.sin(2 * Math.PI * e * t), 0.8),
    ),
  ];
}

export const motions: Figure = {
  name: 'motion: cause right, rate within 2 %, depth within 15 %',
  share: 0.9,
  *checks() {
    for (let seed = 1; seed <= 4; seed++) {
      const f0Hz = createDice(60 + seed).between(60, 450);
      for (const { cause, rateHz, depth, make } of movingTones(seed)) {
        const { motion } = inPiece(times(make(f0Hz, seed), held({ off: SECONDS - 0.2 })));
        const [found] = motion.filter((one) => one.cause !== 'vibrato');
        const words = `${cause} at ${f0Hz.toFixed(0)} Hz`;
        yield check(`${words}, cause`, cause, found?.cause, found?.cause === cause, found?.confidence);
        yield check(
          `${words}, rate`,
          rateHz,
          found?.rateHz,
          near(found?.rateHz ?? null, rateHz, 0.02),
          found?.confidence,
        );
        yield check(`${words}, depth`, depth, found?.depth, near(found?.depth ?? null, depth, 0.15), found?.confidence);
      }
    }
  },
};

export const divisions: Figure = {
  name: 'divisions of synced movements',
  share: 0.95,
  *checks() {
    // Rates of divisions at 120 BPM: arithmetic.
    const synced: [string, number][] = [
      ['1/2', 1],
      ['1/4', 2],
      ['1/8', 4],
      ['1/8.', 8 / 3],
      ['1/4t', 3],
      ['1/16', 8],
    ];
    for (const [division, rateHz] of synced) {
      for (const f0Hz of [82.4, 196, 330]) {
        const { motion } = inPiece(
          times(times(voices({ f0Hz, seconds: SECONDS }), tremolo(rateHz, 6)), held({ off: 3.8 })),
        );
        const found = motion[0]?.division;
        yield check(
          `${division} at ${f0Hz} Hz`,
          division,
          found,
          found === division && divisionOf(rateHz, BPM) === division,
        );
      }
    }
  },
};

const spread = (count: number, cents: number) =>
  Array.from({ length: count }, (_, i) => cents * (i / (count - 1) - 0.5));

export const detunes: Figure = {
  name: 'detune within 2 cents or 15 %; the number of voices where it is told',
  share: 0.9,
  *checks() {
    const { between } = createDice(71);
    for (let i = 0; i < 20; i++) {
      const count = 2 + (i % 6);
      const [f0Hz, cents] = [between(50, 500), between(6, 45)];
      const tone = voices({ f0Hz, seconds: 2, cents: spread(count, cents), seed: i + 3 });
      const { detuneCents, voices: told, confidence } = read(times(tone, held({ off: 1.9 }))).traits.unison;
      const words = `${count} voices at ${f0Hz.toFixed(0)} Hz`;
      yield check(words, cents, detuneCents, near(detuneCents, cents, 0.15, 2), confidence);
      if (told !== null) yield check(`${words}, number`, count, told, told === count, confidence);
    }
  },
};

export const glides: Figure = {
  name: 'glide within 15 %',
  share: 0.9,
  *checks() {
    const { between, pick } = createDice(81);
    for (let i = 0; i < 10; i++) {
      const midis = Array.from({ length: 4 }, () => 36 + Math.floor(36 * between(0.02, 1)));
      const line = {
        midis: midis.map((midi, k) => (midi === midis[k - 1] ? midi + 3 : midi)),
        noteSeconds: 0.5,
        glideSeconds: pick([0.06, 0.09, 0.14, 0.2]),
      };
      const found = read(glidingLine(line)).traits.pitch.glideSeconds;
      yield check(line.midis.join(' '), line.glideSeconds, found, near(found, line.glideSeconds, 0.15));
    }
  },
};
