import { readTone } from '@imprint/core/reading/read';
import { claimsOf } from '../../packages/core/test/made/claims';
import type { MadeTone } from '../../packages/core/test/made/madeTone';
import { madeTones, treatments } from '../../packages/core/test/made/tones';
import { type Check, type Figure, RATE_HZ, check } from './figure';

/** Nothing was tuned on these numbers. */
const SEED = Number(process.env.MADE_SEED ?? 101);
/** What a reading can claim, `Feature`. */
const CLAIMABLE = 12;

interface Read {
  words: string;
  tone: MadeTone;
  /** What may be said of it besides what is in it. */
  adds: readonly string[];
  isDry: boolean;
  reading: ReturnType<typeof readTone>;
}

let known: Read[] | undefined;

/** Every tone dry and through every treatment, read once for both figures. */
function readings(): Read[] {
  return (known ??= madeTones(SEED).flatMap((tone) =>
    Object.entries(treatments).map(([name, { adds, run }]) => ({
      words: `${tone.name}, ${name}`,
      tone,
      adds,
      isDry: name === 'dry',
      reading: readTone({
        channels: tone.channels.map((channel) => Float32Array.from(run(channel, SEED))),
        sampleRateHz: RATE_HZ,
      }),
    })),
  ));
}

export const madeFacts: Figure = {
  name: 'tones as people make them, dry and through drive, filter, chorus, room: what is in them is told',
  share: 0.92,
  *checks(): Iterable<Check> {
    for (const { words, tone, isDry, reading } of readings()) {
      for (const fact of tone.facts.filter(({ dryOnly }) => isDry || !dryOnly))
        yield check(
          `${words}: ${fact.name}`,
          fact.wanted,
          fact.found(reading),
          fact.right(reading),
          fact.confidence(reading),
        );
    }
  },
};

export const madeClaims: Figure = {
  name: 'the same: of what could be claimed, nothing is that is not there',
  share: 0.98,
  *checks(): Iterable<Check> {
    for (const { words, tone, adds, reading } of readings()) {
      const claims = claimsOf(reading);
      for (const [feature, confidence] of claims) {
        const isThere = tone.has.includes(feature) || adds.includes(feature);
        yield check(`${words}: ${feature}`, 'only what is there', feature, isThere, confidence);
      }
      for (let i = claims.size; i < CLAIMABLE; i++) yield check(words, 'nothing', 'nothing', true);
    }
  },
};
