/** Tones whose partials come from one sine moving another. */
import { fm, midi, ring } from './facts';
import { type Maker, mono, withSettings } from './madeTone';
import { fmTone, hzOf, level, shaped, square, tone, triangle } from './parts';
import { fmSettings, levelTimes, ringHz, sourceAt } from './trueSettings';

export const sidebands = {
  'bell of two sines that do not fit': ({ between, whole }) => {
    const [m, ratio, index] = [whole(55, 72), between(1.2, 1.45), between(1.5, 3)];
    const bell = fmTone(1.6, hzOf(m), ratio, (t) => index * Math.exp(-t / 0.6));
    return withSettings(
      mono(shaped(bell, level({ attack: 0.002, decay: 0.6, sustain: 0 })), ['fm'], midi(m), fm(hzOf(m), ratio)),
      ...fmSettings(ratio, 0.1, index * Math.exp(-0.1 / 0.6)),
      ...levelTimes({ decay: 0.6 }),
    );
  },
  'metal with a high modulator': ({ between, whole }) => {
    const [m, ratio, index] = [whole(50, 64), between(2.2, 3.45), between(1, 2.2)];
    const metal = fmTone(1.4, hzOf(m), ratio, (t) => index * Math.exp(-t / 0.8));
    return withSettings(
      mono(
        shaped(metal, level({ attack: 0.002, decay: 0.5, sustain: 0.1, off: 1.2 })),
        ['fm'],
        midi(m),
        fm(hzOf(m), ratio),
      ),
      ...fmSettings(ratio, 0.1, index * Math.exp(-0.1 / 0.8)),
      ...levelTimes({ decay: 0.5 }),
    );
  },
  'growl of equal sines': ({ between, whole }) => {
    const [m, index] = [whole(31, 45), between(3, 6)];
    const growl = fmTone(1.4, hzOf(m), 1, (t) => index * Math.exp(-t / 0.5));
    return withSettings(
      mono(shaped(growl, level({ attack: 0.003, off: 1.2 })), [], midi(m)),
      ...fmSettings(1, 0.1, index * Math.exp(-0.1 / 0.5)),
    );
  },
  'hollow sines at one and two': ({ between, whole }) => {
    const [m, index] = [whole(40, 60), between(0.8, 2)];
    const hollow = fmTone(1.2, hzOf(m), 2, () => index);
    return withSettings(
      mono(shaped(hollow, level({ attack: 0.003, off: 1 })), [], midi(m)),
      ...fmSettings(2, 0.5, index),
    );
  },
  'triangle ringed at a quarter': ({ whole }) => {
    const m = whole(60, 76);
    const hz = hzOf(m);
    const ringed = shaped(tone({ seconds: 1.2, hz, amplitude: triangle }), (t) => Math.sin((2 * Math.PI * hz * t) / 4));
    return withSettings(
      mono(shaped(ringed, level({ off: 1 })), ['ring', 'motion'], midi(m), ring(hz / 4)),
      ringHz(hz / 4),
      sourceAt(['triangle'], 0),
    );
  },
  'saw ringed low': ({ between, whole }) => {
    const [m, rate] = [whole(50, 66), between(28, 60)];
    const ringed = shaped(tone({ seconds: 1.2, hz: hzOf(m) }), (t) => Math.sin(2 * Math.PI * rate * t));
    return withSettings(
      mono(shaped(ringed, level({ off: 1 })), ['ring', 'motion'], midi(m), ring(rate)),
      ringHz(rate),
      sourceAt(['saw'], 0),
    );
  },
  'square with its level moved fast': ({ between, whole }) => {
    const [m, rate, depth] = [whole(52, 70), between(28, 60), between(0.5, 0.9)];
    const moved = shaped(
      tone({ seconds: 1.2, hz: hzOf(m), amplitude: square }),
      (t) => 1 + depth * Math.sin(2 * Math.PI * rate * t),
    );
    return withSettings(
      mono(shaped(moved, level({ off: 1 })), ['ring', 'motion'], midi(m), ring(rate)),
      ringHz(rate),
      sourceAt(['pulse'], 0),
    );
  },
} satisfies Record<string, Maker>;
