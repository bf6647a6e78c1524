/** Short tones. */
import { midi, notes, slide } from './facts';
import { type Maker, mono, withSettings, scaled } from './madeTone';
import { falling, hzOf, level, lengthOf, mixed, pulse, shaped, sine, tone, twoPole } from './parts';
import { fallingCutoff, levelTimes, slideSettings, sourceAt } from './trueSettings';

export const plucks = {
  'sine pluck with a pitch drop': ({ between, whole }) => {
    const [m, st, tau] = [whole(36, 64), between(12, 30), between(0.006, 0.02)];
    const body = tone({ seconds: 1, hz: hzOf(m), amplitude: sine, semitones: (t) => st * Math.exp(-t / tau) });
    const decay = between(0.1, 0.25);
    return withSettings(
      mono(shaped(body, level({ attack: 0.001, decay, sustain: 0 })), ['slide'], midi(m), slide(st, tau)),
      sourceAt(['sine'], 0),
      ...slideSettings(st, tau),
      ...levelTimes({ decay }),
    );
  },
  'sine and a short saw': ({ between, whole }) => {
    const m = whole(45, 69);
    const bite = shaped(tone({ seconds: 1, hz: hzOf(m) }), level({ attack: 0.001, decay: 0.03, sustain: 0 }));
    const body = shaped(
      tone({ seconds: 1, hz: hzOf(m), amplitude: sine }),
      level({ decay: between(0.15, 0.3), sustain: 0 }),
    );
    return mono(mixed(body, scaled(bite, between(0.3, 0.7))), [], midi(m));
  },
  'muted string': ({ between, whole }) => {
    const [m, st, tau] = [whole(40, 60), between(1.5, 3), between(0.02, 0.04)];
    const narrow = tone({
      seconds: 1,
      hz: hzOf(m),
      amplitude: pulse(0.08),
      semitones: (t) => st * Math.exp(-t / tau),
    });
    const low = twoPole(narrow, 'low', falling(3000, 500, 0.06), 0.8);
    return withSettings(
      mono(shaped(low, level({ attack: 0.002, decay: 0.12, sustain: 0 })), ['slide'], midi(m), slide(st, tau)),
      ...slideSettings(st, tau),
      ...fallingCutoff(3000, 500, 0.06),
      ...levelTimes({ decay: 0.12 }),
    );
  },
  'strummed chord': ({ between, whole }) => {
    const m = whole(48, 57);
    const midis = [m, m + 7, m + 15];
    const gap = between(0.012, 0.02);
    const out = midis.map((one, i) => {
      const plucked = shaped(tone({ seconds: 1.5, hz: hzOf(one) }), level({ attack: 0.002, decay: 0.5, sustain: 0 }));
      const late = new Float64Array(plucked.length);
      late.set(plucked.subarray(0, plucked.length - lengthOf(i * gap)), lengthOf(i * gap));
      return late;
    });
    return mono(mixed(...out), ['voices', 'motion'], notes(midis));
  },
} satisfies Record<string, Maker>;
