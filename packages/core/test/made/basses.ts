/** Low tones. */
import { detune, dirty, formantsAt, midi, part, voices } from './facts';
import { type Maker, mono, withSettings, scaled, soft } from './madeTone';
import {
  driven,
  falling,
  formants,
  hzOf,
  level,
  mixed,
  shaped,
  sine,
  spreadOf,
  square,
  tone,
  triangle,
  twoPole,
  voicesOf,
} from './parts';
import { curvePart, detuneOf, fallingCutoff, formantPart, levelTimes, sourceAt } from './trueSettings';

export const basses = {
  'filtered saw bass over a sine sub': ({ between, whole }) => {
    const m = whole(36, 47);
    const [from, to] = [between(1800, 4000), between(250, 500)];
    const tau = between(0.1, 0.25);
    const body = twoPole(tone({ seconds: 1.4, hz: hzOf(m) }), 'low', falling(from, to, tau), 1);
    const sub = tone({ seconds: 1.4, hz: hzOf(m - 12), amplitude: sine, phase: 0.3 });
    const both = mixed(body, scaled(sub, between(0.4, 0.9)));
    return withSettings(
      mono(shaped(both, level({ off: 1.2 })), [], midi(m), part(['sine'], -12), part(['saw'], 0)),
      sourceAt(['sine'], -12),
      sourceAt(['saw'], 0),
      ...fallingCutoff(from, to, tau),
      ...levelTimes({ release: 0.05 }),
    );
  },
  'saw over a sine sub': ({ between, whole, random }) => {
    const m = whole(40, 60);
    const both = mixed(
      tone({ seconds: 1.2, hz: hzOf(m), phase: random() }),
      scaled(tone({ seconds: 1.2, hz: hzOf(m - 12), amplitude: sine }), between(0.3, 1)),
    );
    return withSettings(
      mono(shaped(both, level({ off: 1 })), [], midi(m), part(['sine'], -12), part(['saw'], 0)),
      sourceAt(['sine'], -12),
      sourceAt(['saw'], 0),
      ...levelTimes({ release: 0.05 }),
    );
  },
  'square over a triangle sub': ({ between, whole, random }) => {
    const m = whole(40, 58);
    const both = mixed(
      tone({ seconds: 1.2, hz: hzOf(m), amplitude: square, phase: random() }),
      scaled(tone({ seconds: 1.2, hz: hzOf(m - 12), amplitude: triangle }), between(0.4, 1)),
    );
    return withSettings(
      mono(shaped(both, level({ off: 1 })), [], midi(m), part(['sine', 'triangle'], -12), part(['square'], 0)),
      sourceAt(['sine', 'triangle'], -12),
      sourceAt(['pulse'], 0),
    );
  },
  'two saws that fight': ({ between, whole, random }) => {
    const [m, cents] = [whole(33, 50), between(18, 52)];
    const pair = voicesOf({ seconds: 2, hz: hzOf(m) }, [-cents / 2, cents / 2], random);
    return withSettings(
      mono(shaped(pair, level({ off: 1.8 })), ['voices', 'motion'], midi(m), detune(cents), voices(2)),
      detuneOf(cents),
      sourceAt(['saw'], 0),
    );
  },
  'three saws behind a low-pass': ({ between, whole, random }) => {
    const [m, cents] = [whole(33, 48), between(20, 40)];
    const three = voicesOf({ seconds: 2.5, hz: hzOf(m) }, spreadOf(3, cents), random);
    const from = between(2500, 5000);
    const low = twoPole(three, 'low', falling(from, 700, 0.5), 0.8);
    return withSettings(
      mono(shaped(low, level({ off: 2.2 })), ['voices', 'motion'], midi(m), detune(cents), voices(3)),
      detuneOf(cents),
      ...fallingCutoff(from, 700, 0.5),
      sourceAt(['saw'], 0),
    );
  },
  'moving vowel': ({ between, whole }) => {
    const m = whole(36, 48);
    const [a, b] = [between(350, 500), between(600, 900)];
    const [c, d] = [between(900, 1200), between(1700, 2300)];
    const move = (from: number, to: number) => (t: number) => from * (to / from) ** Math.min(1, t / 1.2);
    const [low, high] = [move(a, b), move(d, c)];
    const vowel = tone({ seconds: 1.6, hz: hzOf(m), amplitude: formants(hzOf(m), (t) => [low(t), high(t)], 130) });
    return withSettings(
      mono(shaped(vowel, level({ off: 1.4 })), ['formants'], midi(m), formantsAt([a, d])),
      formantPart,
    );
  },
  'held vowel': ({ between, whole }) => {
    const m = whole(36, 50);
    const centres = [between(400, 800), between(1100, 1700), between(2300, 3000)];
    const vowel = tone({ seconds: 1.2, hz: hzOf(m), amplitude: formants(hzOf(m), () => centres, 130) });
    return withSettings(
      mono(shaped(vowel, level({ off: 1 })), ['formants'], midi(m), formantsAt(centres.slice(0, 2))),
      formantPart,
    );
  },
  'sine pushed into a soft curve': ({ between, whole }) => {
    const m = whole(30, 45);
    const body = shaped(
      tone({ seconds: 1.4, hz: hzOf(m), amplitude: sine }),
      level({ decay: 0.4, sustain: 0.15, off: 1.2 }),
    );
    const push = between(4, 12);
    return withSettings(
      mono(
        driven(body, (x) => soft(push * x)),
        ['dirt'],
        midi(m),
        dirty(['soft', 'hard']),
      ),
      sourceAt(['sine'], 0),
      curvePart,
    );
  },
  'folded sine': ({ between, whole }) => {
    const m = whole(30, 45);
    const body = shaped(
      tone({ seconds: 1.4, hz: hzOf(m), amplitude: sine }),
      level({ decay: 0.35, sustain: 0, off: 1.2 }),
    );
    const push = between(3, 6);
    return withSettings(
      mono(
        driven(body, (x) => Math.sin(push * x)),
        ['dirt'],
        midi(m),
        dirty(['fold']),
      ),
      sourceAt(['sine'], 0),
      curvePart,
    );
  },
  'two driven sines, the fifth harmonic faded in': ({ between, whole }) => {
    const m = whole(31, 43);
    const hz = hzOf(m);
    const [second, fifth] = [between(0.3, 0.6), between(0.2, 0.5)];
    const body = tone({
      seconds: 1.8,
      hz,
      amplitude: (n, t) =>
        n === 1 ? 1 : n === 2 ? second * Math.min(1, t / 0.8) : n === 5 ? fifth * Math.min(1, t / 0.8) : 0,
    });
    return mono(shaped(body, level({ off: 1.6 })), [], midi(m), part(['sine'], 0));
  },
} satisfies Record<string, Maker>;
