import { times, voices, withDelay, withEchoes, withRoom } from '../../packages/core/test/effects';
import { renderPiece } from '../../packages/core/test/pieces';
import { readPiece } from '@imprint/core/reading/piece/piece';
import { type Figure, RATE_HZ, check, createDice, held, near, read } from './figure';

const SECONDS = 4;

export const rooms: Figure = {
  name: 'RT60 within 10 %',
  share: 0.9,
  *checks() {
    const { between } = createDice(91);
    for (let i = 0; i < 12; i++) {
      const [f0Hz, rt60Seconds, wetDb] = [between(60, 500), between(0.4, 2.5), -between(4, 14)];
      const tone = times(
        voices({ f0Hz, seconds: SECONDS, seed: i + 1 }),
        held({ off: 1, release: between(0.05, 0.15) }),
      );
      const { space } = read(withRoom(tone, { rt60Seconds, wetDb, seed: i + 5 })).traits;
      yield check(
        `${f0Hz.toFixed(0)} Hz, ${wetDb.toFixed(0)} dB`,
        rt60Seconds,
        space.rt60Seconds,
        near(space.rt60Seconds, rt60Seconds, 0.1),
        space.confidence,
      );
    }
  },
};

/** What is told of it has to be right; one hidden by attack and release is not told. */
export const preDelays: Figure = {
  name: 'pre-delay within 10 ms, where told',
  share: 0.85,
  *checks() {
    const { between } = createDice(93);
    for (let i = 0; i < 16; i++) {
      const [f0Hz, preDelaySeconds, wetDb] = [between(60, 500), between(0.008, 0.15), -between(4, 14)];
      const tone = times(
        voices({ f0Hz, seconds: SECONDS, seed: i + 1 }),
        held({ off: 1, attack: between(0.002, 0.03), release: between(0.02, 0.15) }),
      );
      const room = { rt60Seconds: between(0.5, 2.5), wetDb, preDelaySeconds, seed: i + 5 };
      const { space } = read(withRoom(tone, room)).traits;
      const off = space.preDelaySeconds === null ? 0 : Math.abs(space.preDelaySeconds - preDelaySeconds);
      yield check(
        `${f0Hz.toFixed(0)} Hz, ${wetDb.toFixed(0)} dB`,
        preDelaySeconds,
        space.preDelaySeconds,
        off < 0.01,
        space.confidence,
      );
    }
  },
};

export const echoes: Figure = {
  name: 'echo time and feedback within 10 %',
  share: 0.9,
  *checks() {
    const { between, pick } = createDice(97);
    for (let i = 0; i < 12; i++) {
      const [f0Hz, seconds, feedback] = [between(60, 500), between(0.15, 0.55), pick([0.3, 0.4, 0.5, 0.6])];
      const tone = times(
        voices({ f0Hz, seconds: SECONDS, seed: i + 1 }),
        (t) => held({ attack: 0.004 })(t) * Math.exp(-9 * t),
      );
      const { space } = read(withEchoes(tone, seconds, 0.6, feedback)).traits;
      const words = `${f0Hz.toFixed(0)} Hz`;
      yield check(
        `${words}, time`,
        seconds,
        space.echo?.seconds,
        near(space.echo?.seconds ?? null, seconds, 0.1),
        space.confidence,
      );
      yield check(
        `${words}, feedback`,
        feedback,
        space.echo?.feedback,
        near(space.echo?.feedback ?? null, feedback, 0.1),
        space.confidence,
      );
    }
  },
};

export const widths: Figure = {
  name: 'cause of width',
  share: 0.9,
  *checks() {
    const { between } = createDice(101);
    for (let i = 0; i < 4; i++) {
      const f0Hz = between(70, 450);
      const own = held({ off: 1.4 });
      const tone = (cents: number[], seed: number) => times(voices({ f0Hz, seconds: 2.4, cents, seed }), own);
      const dry = tone([0], 1);
      const seconds = between(0.001, 0.02);
      const late = withDelay(dry, () => seconds, 1).map((x, k) => x - dry[k]);
      const room = (seed: number) => withRoom(dry, { rt60Seconds: between(0.8, 1.6), wetDb: -8, seed });
      const cases: [string | null, Float64Array, Float64Array][] = [
        [null, dry, dry],
        ['panning', dry.map((x) => 0.9 * x), dry.map((x) => 0.4 * x)],
        ['delay', dry, late],
        ['detune', tone([-9, 1], 2), tone([-1, 9], 3)],
        ['reverb', room(4), room(5)],
      ];
      for (const [cause, left, right] of cases) {
        const { width } = read(left, right).traits;
        yield check(`${f0Hz.toFixed(0)} Hz`, cause, width.cause, width.cause === cause, width.confidence);
      }
    }
  },
};

export const crushes: Figure = {
  name: 'bits exact, hold rate within 1 %',
  share: 1,
  *checks() {
    const { between } = createDice(103);
    for (const bits of [4, 6, 8, 10, 12]) {
      const step = 2 / 2 ** bits;
      const f0Hz = between(60, 600);
      const tone = times(voices({ f0Hz, seconds: 1.2 }), held({ off: 1 })).map((x) => 2 * x);
      const { dirt } = read(tone.map((x) => Math.round(x / step) * step)).traits;
      yield check(`${bits} bits at ${f0Hz.toFixed(0)} Hz`, bits, dirt.bits, dirt.bits === bits, dirt.confidence);
    }
    for (const ratio of [3, 5, 8]) {
      const tone = times(voices({ f0Hz: between(60, 400), seconds: 1.2 }), held({ off: 1 }));
      const { dirt } = read(tone.map((_, i) => tone[i - (i % ratio)])).traits;
      yield check(
        `hold of ${ratio} samples`,
        RATE_HZ / ratio,
        dirt.holdHz,
        near(dirt.holdHz, RATE_HZ / ratio, 0.01),
        dirt.confidence,
      );
    }
  },
};

export const drives: Figure = {
  name: 'kind of drive of tones that die away',
  share: 0.9,
  *checks() {
    const { between } = createDice(107);
    const curves: [string, (x: number) => number][] = [
      ['none', (x) => x],
      ['soft', (x) => Math.tanh(4 * x)],
      ['hard', (x) => Math.max(-0.5, Math.min(0.5, 3 * x))],
      ['fold', (x) => Math.sin(5 * x)],
    ];
    for (const [kind, curve] of curves) {
      for (let i = 0; i < 3; i++) {
        const tone = times(
          voices({ f0Hz: between(60, 400), seconds: 1.5, mostPartials: 3 }),
          (t) => held()(t) * Math.exp(-3 * t),
        );
        const { dirt } = read(tone.map((x) => 0.5 * curve(3 * x))).traits;
        yield check(`${kind} ${i}`, kind, dirt.kind, dirt.kind === kind, dirt.confidence);
      }
    }
  },
};

const SCALES: Record<string, number[]> = {
  major: [0, 2, 4, 5, 7, 9, 11],
  minor: [0, 2, 3, 5, 7, 8, 10],
  dorian: [0, 2, 3, 5, 7, 9, 10],
  phrygian: [0, 1, 3, 5, 7, 8, 10],
};
const NAMES = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'];
const PIECE_RATE_HZ = 22050;

/** Twenty pieces by formula, with what they are. */
export function pieces() {
  const { between, pick, random } = createDice(109);
  return Array.from({ length: 20 }, (_, seed) => {
    const mode = pick(Object.keys(SCALES));
    const tonic = Math.floor(12 * random());
    const bpm = between(75, 165);
    const sound = renderPiece({
      bpm,
      tonic,
      scale: SCALES[mode],
      seed: seed + 200,
      seconds: 20,
      sampleRateHz: PIECE_RATE_HZ,
    });
    return { bpm, tonic: NAMES[tonic], mode, sound, sampleRateHz: PIECE_RATE_HZ };
  });
}

/** The octave of a tempo is left open: a piece may as well be felt at half or double its beats. */
export function isTempo(found: number | null | undefined, bpm: number): boolean {
  return typeof found === 'number' && [0.5, 1, 2].some((factor) => near(found, factor * bpm, 0.005));
}

export const tempos: Figure = {
  name: 'tempo within 0.5 %, the octave left open',
  share: 0.9,
  *checks() {
    for (const { bpm, sound, sampleRateHz } of pieces()) {
      const { tempo } = readPiece({ channels: [sound], sampleRateHz });
      yield check('tempo', bpm, tempo.bpm, isTempo(tempo.bpm, bpm), tempo.confidence);
    }
  },
};

export const keys: Figure = {
  name: 'key with mode',
  share: 0.9,
  *checks() {
    for (const { tonic, mode, sound, sampleRateHz } of pieces()) {
      const { key } = readPiece({ channels: [sound], sampleRateHz });
      const found = `${key.tonic} ${key.mode}`;
      yield check('key', `${tonic} ${mode}`, found, found === `${tonic} ${mode}`, key.confidence);
    }
  },
};
