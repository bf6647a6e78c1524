/** Tones that last. */
import { withRoom } from '../effects';
import { detune, midi, motionFact, room } from './facts';
import { type Maker, mono, withSettings } from './madeTone';
import { hzOf, level, shaped, spreadOf, tone, twoPole, voicesOf } from './parts';
import { cutoffAt, detuneOf, levelTimes, lfoRate, roomTime, sourceAt } from './trueSettings';

export const pads = {
  'pad of three saws': ({ between, whole, random }) => {
    const [m, cents] = [whole(48, 60), between(10, 20)];
    const pad = voicesOf({ seconds: 4, hz: hzOf(m) }, spreadOf(3, cents), random);
    return withSettings(
      mono(shaped(pad, level({ attack: 0.6, off: 3.2, release: 0.3 })), ['voices', 'motion'], midi(m), detune(cents)),
      detuneOf(cents),
      sourceAt(['saw'], 0),
      ...levelTimes({ attack: 0.6, release: 0.3 }),
    );
  },
  'slow pad of two saws': ({ between, whole, random }) => {
    const [m, cents] = [whole(48, 62), between(4, 8)];
    const pad = voicesOf({ seconds: 4, hz: hzOf(m) }, [-cents / 2, cents / 2], random);
    const low = twoPole(pad, 'low', () => 2500, 0.7);
    return withSettings(
      mono(shaped(low, level({ attack: 0.4, off: 3.4, release: 0.2 })), ['voices', 'motion'], midi(m), detune(cents)),
      detuneOf(cents),
      sourceAt(['saw'], 0),
      cutoffAt(1, 2500),
      ...levelTimes({ attack: 0.4, release: 0.2 }),
    );
  },
  'pad in a room': ({ between, whole, random }) => {
    const [m, rt60] = [whole(48, 60), between(1, 2.2)];
    const pad = shaped(
      voicesOf({ seconds: 4.5, hz: hzOf(m) }, spreadOf(3, 12), random),
      level({ attack: 0.2, off: 1.8, release: 0.05 }),
    );
    return withSettings(
      mono(
        withRoom(pad, { rt60Seconds: rt60, wetDb: -between(6, 12), seed: Math.ceil(1000 * random()) }),
        ['voices', 'motion', 'room'],
        midi(m),
        room(rt60),
      ),
      detuneOf(12),
      roomTime(rt60),
      ...levelTimes({ attack: 0.2 }),
    );
  },
  'pad whose filter goes round': ({ between, whole }) => {
    const [m, rate] = [whole(45, 57), between(0.8, 2.5)];
    const pad = twoPole(
      tone({ seconds: 4, hz: hzOf(m) }),
      'low',
      (t) => 900 * 2 ** (1.1 * Math.sin(2 * Math.PI * rate * t)),
      0.8,
    );
    return withSettings(
      mono(shaped(pad, level({ attack: 0.05, off: 3.7 })), ['motion'], midi(m), motionFact('filter', rate)),
      lfoRate(rate),
      sourceAt(['saw'], 0),
      cutoffAt(0, 900),
    );
  },
} satisfies Record<string, Maker>;
