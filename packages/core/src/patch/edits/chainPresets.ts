import { type ChainOwner, addEffect, chainOf } from './chains';
import { MAX_EFFECTS } from '../schemas/effectSchema';
import type { Effect, EffectKind, Patch } from '../schema';

/** A few effects that belong together, and what they are for. */
export interface ChainPreset {
  name: string;
  purpose: string;
  effects: readonly ({ kind: EffectKind } & Record<string, unknown>)[];
}

const bands = (...kinds: readonly (readonly [kind: string, slope?: number])[]) =>
  Array.from({ length: 8 }, (_, i) => {
    const [kind, slopeDbPerOctave = 12] = kinds[i] ?? ['off'];
    return { kind, slopeDbPerOctave };
  });

/** Chains of our own to begin with. */
export const chainPresets: readonly ChainPreset[] = [
  {
    name: 'Glue the partials',
    purpose: 'evens out a tone and warms it a little',
    effects: [
      {
        kind: 'compressor',
        detector: 'rms',
        thresholdDb: -24,
        ratio: 2,
        kneeDb: 12,
        attackSeconds: 0.02,
        releaseSeconds: 0.18,
        autoMakeUp: true,
      },
      { kind: 'drive', curve: 'soft', driveDb: 4, mix: 60, matchLevel: true },
    ],
  },
  {
    name: 'Clear room for the sub',
    purpose: 'takes a layer out of the way of the one below it',
    effects: [
      { kind: 'equalizer', bands: bands(['lowCut', 24], ['bell']), band1Hz: 110, band2Hz: 220, band2Db: -2, band2Q: 1 },
      { kind: 'stereo', monoBelowHz: 180 },
    ],
  },
  {
    name: 'Wide, and whole in mono',
    purpose: 'spreads a lead or pad without losing its lows',
    effects: [
      { kind: 'widener', detuneCents: 7, monoBelowHz: 180, mix: 50 },
      { kind: 'stereo', width: 115, monoBelowHz: 140 },
    ],
  },
  {
    name: 'Lamp-lit room',
    purpose: 'a small warm room around a pluck',
    effects: [
      {
        kind: 'reverb',
        rt60Seconds: 0.5,
        size: 45,
        preDelaySeconds: 0.008,
        damping: 55,
        lowCutHz: 160,
        highCutHz: 6500,
        mix: 20,
      },
    ],
  },
  {
    name: 'Far across the water',
    purpose: 'echoes that dull as they go, into a long hall',
    effects: [
      {
        kind: 'delay',
        leftDivision: '1/8.',
        rightDivision: '1/4',
        feedback: 38,
        crossFeedback: 12,
        lowCutHz: 220,
        highCutHz: 3200,
        mix: 26,
      },
      { kind: 'reverb', rt60Seconds: 3.6, preDelaySeconds: 0.03, damping: 45, lowCutHz: 180, mix: 24 },
    ],
  },
  {
    name: 'Rusted edge',
    purpose: 'dirt with the highs held back',
    effects: [
      { kind: 'drive', curve: 'diode', driveDb: 16, tone: 'before', toneHz: 4200, matchLevel: true },
      { kind: 'reducer', bits: 9.5, rateHz: 16000, jitter: 12, toneHz: 7000, mix: 45 },
    ],
  },
  {
    name: 'Breathes with the kick',
    purpose: 'makes room on every beat',
    effects: [{ kind: 'ducker', key: 'pattern', depthDb: 12, releaseSeconds: 0.24, bend: 20 }],
  },
  {
    name: 'Slow swell of notches',
    purpose: 'a pad that turns by itself',
    effects: [
      { kind: 'phaser', stages: 8, centreHz: 900, spreadOctaves: 2, depthOctaves: 2.4, rateHz: 0.08, feedback: 45 },
      { kind: 'chorus', voices: 4, rateHz: 0.3, depthSeconds: 0.002, mix: 35 },
    ],
  },
  {
    name: 'Radio on the sill',
    purpose: 'a small loudspeaker, driven',
    effects: [
      { kind: 'cabinet', cabinet: 'smallSpeaker', driveDb: 10, presenceDb: 2 },
      { kind: 'limiter', ceilingDb: -1 },
    ],
  },
  {
    name: 'Last in the chain',
    purpose: 'holds all layers together under a ceiling',
    effects: [
      { kind: 'multiband', amount: 35, midUpRatio: 1.3, lowUpRatio: 1, highUpRatio: 1.3 },
      { kind: 'limiter', driveDb: 1.5, ceilingDb: -1 },
    ],
  },
];

/**
 * A chain as it can be put on the shelf: without what only its patch has, other layers to listen to and
 * samples to play.
 */
export const shelvedEffects = (patch: Patch, owner: ChainOwner): Effect[] =>
  chainOf(patch, owner).map((effect) => ({
    ...effect,
    ...('keyLayerId' in effect && { keyLayerId: null }),
    ...('sampleId' in effect && { sampleId: null }),
  }));

/** Whether a chain has room for all effects of a preset. */
export const hasRoomFor = (patch: Patch, owner: ChainOwner, { effects }: ChainPreset): boolean =>
  chainOf(patch, owner).length + effects.length <= MAX_EFFECTS;

/** Adds the effects of a preset at the end of a chain, and returns the id of the first. */
export function addPreset(patch: Patch, owner: ChainOwner, { effects }: ChainPreset): [Patch, string] {
  let changed = patch;
  let first: string | undefined;
  for (const { kind, ...fields } of effects) {
    const [added, id] = addEffect(changed, owner, kind, fields);
    changed = added;
    first ??= id;
  }
  return [changed, first ?? ''];
}
