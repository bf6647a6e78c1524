/** Organs, strings, echoes, and what stands alone. */
import { withEchoes } from '../effects';
import { attackNoise, dirtFact, echo, hiss, midi, motionFact, part, shape, shapeFact, within } from './facts';
import { type Maker, mono, withSettings, scaled } from './madeTone';
import { type Signal, hzOf, level, mixed, noise, peakOf, shaped, sine, square, tone, triangle } from './parts';
import { crushPart, echoTime, levelTimes, lfoRate, noisePart, sourceAt } from './trueSettings';

export const others = {
  'organ with a key click': ({ between, whole, random }) => {
    const m = whole(48, 67);
    const bars: Record<number, number> = { 1: 1, 2: 0.7, 3: 0.5, 4: 0.5, 6: 0.3, 8: 0.35 };
    const organ = shaped(
      tone({ seconds: 1.2, hz: hzOf(m), amplitude: (n) => bars[n] ?? 0 }),
      level({ attack: 0.002, off: 1, release: 0.01 }),
    );
    const click = shaped(noise(1.2, random), (t) => between(0.5, 1) * (t < 0.004 ? 1 - t / 0.004 : 0));
    return withSettings(mono(mixed(organ, click), ['noise'], midi(m), attackNoise), noisePart);
  },
  'organ with a lower stop': ({ between, whole }) => {
    const m = whole(48, 64);
    const bars: Record<number, number> = { 1: between(0.5, 1), 2: 1, 3: 0.5, 4: 0.7, 6: 0.5, 8: 0.4, 12: 0.3, 16: 0.3 };
    const organ = tone({ seconds: 1.2, hz: hzOf(m - 12), amplitude: (n) => bars[n] ?? 0 });
    return mono(shaped(organ, level({ attack: 0.005, off: 1, release: 0.02 })), [], midi(m), part(['sine'], -12));
  },
  'stiff string': ({ between, whole }) => {
    const [m, b] = [whole(40, 60), between(2e-4, 8e-4)];
    const hz = hzOf(m);
    const partials = Array.from({ length: 24 }, (_, i) => i + 1).map((n) =>
      shaped(
        tone({ seconds: 1.5, hz: n * hz * Math.sqrt(1 + b * n * n), amplitude: sine, phase: 0.37 * n }),
        (t) => (1 / n) * Math.exp(-t * (1 + 0.15 * n)),
      ),
    );
    return mono(
      shaped(mixed(...partials), level({ attack: 0.002 })),
      ['stiff'],
      midi(m),
      shapeFact(
        'inharmonicity',
        b,
        (p) => p.inharmonicity,
        (p) => within(p.inharmonicity, b, 0.2),
      ),
    );
  },
  'square lead with echoes': ({ between, whole }) => {
    const [m, seconds, feedback] = [whole(55, 70), between(0.2, 0.45), between(0.3, 0.6)];
    const stab = shaped(tone({ seconds: 3, hz: hzOf(m), amplitude: square }), (t) =>
      t < 0.004 ? t / 0.004 : Math.exp(-(t - 0.004) / 0.1),
    );
    return withSettings(
      mono(withEchoes(stab, seconds, 0.6, feedback), ['echo', 'motion'], midi(m), echo(seconds, feedback)),
      echoTime(seconds),
      sourceAt(['pulse'], 0),
      ...levelTimes({ decay: 0.1 }),
    );
  },
  'crushed saw': ({ whole }) => {
    const [m, bits] = [whole(40, 60), whole(5, 9)];
    const step = 2 / 2 ** bits;
    const own = shaped(tone({ seconds: 1.2, hz: hzOf(m) }), level({ off: 1 }));
    const crushed = scaled(own, 0.8 / peakOf(own)).map((x) => Math.round(x / step) * step);
    return withSettings(
      {
        channels: [crushed],
        has: ['dirt', 'noise'],
        facts: [
          midi(m),
          dirtFact(
            'bits',
            bits,
            (d) => d.bits,
            (d) => d.bits === bits,
            true,
          ),
        ],
      },
      crushPart,
      sourceAt(['saw'], 0),
    );
  },
  'saw with hiss': ({ between, whole, random }) => {
    const [m, db] = [whole(45, 65), -between(12, 30)];
    const body = tone({ seconds: 1.5, hz: hzOf(m) });
    const air = noise(1.5, random);
    const power = (x: Signal) => x.reduce((sum, v) => sum + v * v, 0);
    const gain = Math.sqrt(power(body) / power(air)) * 10 ** (db / 20);
    return withSettings(
      mono(shaped(mixed(body, scaled(air, gain)), level({ off: 1.3 })), ['noise'], midi(m), hiss(db)),
      sourceAt(['saw'], 0),
      noisePart,
    );
  },
  'pulse whose width goes round': ({ between, whole }) => {
    const [m, rate] = [whole(40, 58), between(0.5, 2)];
    const moved = tone({
      seconds: 2.5,
      hz: hzOf(m),
      amplitude: (n, t) => Math.sin(Math.PI * n * (0.35 + 0.12 * Math.sin(2 * Math.PI * rate * t))) / n,
    });
    return withSettings(
      mono(shaped(moved, level({ off: 2.2 })), ['motion', 'voices'], midi(m)),
      lfoRate(rate),
      sourceAt(['pulse'], 0),
    );
  },
  'lead with a square tremolo': ({ between, whole }) => {
    const [m, rate] = [whole(52, 70), between(4, 8)];
    const lead = shaped(tone({ seconds: 2, hz: hzOf(m) }), (t) => ((t * rate) % 1 < 0.5 ? 1 : 0.35));
    return withSettings(
      mono(shaped(lead, level({ off: 1.8 })), ['motion'], midi(m), motionFact('tremolo', rate)),
      lfoRate(rate),
      sourceAt(['saw'], 0),
    );
  },
  'saw and a saw an octave up': ({ between, whole, random }) => {
    const m = whole(40, 55);
    const both = mixed(
      tone({ seconds: 1.2, hz: hzOf(m) }),
      scaled(tone({ seconds: 1.2, hz: hzOf(m + 12), phase: random() }), between(0.7, 1)),
    );
    return withSettings(
      mono(shaped(both, level({ off: 1 })), [], midi(m), part(['saw'], 0), part(['saw'], 12)),
      sourceAt(['saw'], 0),
      sourceAt(['saw'], 12),
    );
  },
  'square and a high sine': ({ between, whole, random }) => {
    const m = whole(40, 55);
    const both = mixed(
      tone({ seconds: 1.2, hz: hzOf(m), amplitude: square }),
      scaled(tone({ seconds: 1.2, hz: hzOf(m) * 4, amplitude: sine, phase: random() }), between(0.3, 0.6)),
    );
    return withSettings(
      mono(shaped(both, level({ off: 1 })), [], midi(m), part(['square'], 0), part(['sine'], 24)),
      sourceAt(['pulse'], 0),
      sourceAt(['sine'], 24),
    );
  },
  'plain saw': ({ whole }) => {
    const m = whole(36, 72);
    return withSettings(
      mono(shaped(tone({ seconds: 1.2, hz: hzOf(m) }), level({ off: 1 })), [], midi(m), shape('saw'), part(['saw'], 0)),
      sourceAt(['saw'], 0),
      ...levelTimes({ release: 0.05 }),
    );
  },
  'clean triangle': ({ whole }) => {
    const m = whole(40, 76);
    const own = tone({ seconds: 1.2, hz: hzOf(m), amplitude: triangle });
    return withSettings(
      mono(shaped(own, level({ off: 1 })), [], midi(m), shape('triangle')),
      sourceAt(['triangle'], 0),
    );
  },
} satisfies Record<string, Maker>;
