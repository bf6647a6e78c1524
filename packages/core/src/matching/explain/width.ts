import { gainFromDecibels } from '../../dsp/decibels';
import { sidesOverMiddleDb } from '../../engine/sources/unison';
import { effectSchema } from '../../patch/schemas/effectSchema';
import type { Measurement } from '../../reading/read';
import { median } from '../../reading/statistics';
import { type Explainer, type Hypothesis, freedoms, short } from './hypothesis';
import { voiceCount } from './sources';

/** Differences of the sides that are not heard. */
const LEAST_WIDTH_DB = -26;

/** What voices cannot reach by so much, another thing does. */
const CLEARLY_WIDER_DB = 1;
const FULL_PERCENT = 100;
const MOST_PERCENT = 200;
/** A middle that reaches so far over the lowest partial is more than its own. */
const MONO_OVER_LOWEST = 1.3;

/** What makes the sides differ: voices spread over them, or late copies across. */
export const explainWidth: Explainer = ({ note }) => {
  const { width, unison } = note.reading.traits;
  const widest = Math.max(-Infinity, ...width.bands.map(({ widthDb }) => widthDb));
  if (widest < LEAST_WIDTH_DB || width.cause === 'reverb') return [];
  if (unison.detuneCents !== null && width.cause !== 'delay') return spreadVoices(note);
  return [
    {
      name: 'width',
      stage: 'space',
      confidence: width.confidence,
      why: `the sides differ by ${short(widest)} dB against what they share`,
      apply: (layer) => {
        layer.effects.push(effectSchema.parse({ kind: 'widener', id: 'width', mix: 50 }));
      },
      freedoms: freedoms('width', 'space', { mix: 0.12 }),
      brings: ['width'],
    },
  ];
};

/** Voices on both sides, as far apart as the sides say; what they do not reach is made wider as a whole. */
function spreadVoices({ reading }: Measurement): Hypothesis[] {
  const { width, unison, sources, pitch } = reading.traits;
  const sidesDb = median(
    width.bands.filter(({ fromHz }) => fromHz >= (width.monoBelowHz ?? 0)).map((band) => band.widthDb),
  );
  const count = voiceCount(unison.voices);
  const spread = spreadFor(count, sidesDb);
  const missingDb = sidesDb - sidesOverMiddleDb(count, 1);
  const percent = Math.min(MOST_PERCENT, Math.round(FULL_PERCENT * gainFromDecibels(missingDb)));
  const isWider = missingDb > CLEARLY_WIDER_DB;
  const { monoBelowHz } = width;
  const isMonoBelow = monoBelowHz !== null && monoBelowHz > MONO_OVER_LOWEST * (pitch.f0Hz ?? Infinity);
  const ids = sources.parts.length > 0 ? sources.parts.map((_, i) => `source-${i + 1}`) : ['source-1'];
  const voices: Hypothesis = {
    name: 'voices on both sides',
    stage: 'space',
    confidence: width.confidence,
    why: `the sides differ by ${short(sidesDb)} dB against what they share, as spread voices make them`,
    apply: (layer) => {
      for (const source of layer.sources)
        if ('unisonVoices' in source && source.unisonVoices > 1) source.unisonSpread = Math.round(100 * spread);
    },
    freedoms: ids.flatMap((id) => freedoms(id, 'space', { unisonSpread: 0.12 })),
    brings: [],
  };
  if (!isWider && !isMonoBelow) return [voices];
  const reasons = [
    ...(isWider ? [`${count} voices on both sides alone are ${short(missingDb)} dB less wide`] : []),
    ...(isMonoBelow ? [`under ${short(monoBelowHz)} Hz both sides are alike`] : []),
  ];
  return [
    voices,
    {
      name: 'sides',
      stage: 'space',
      confidence: width.confidence,
      why: reasons.join('; '),
      apply: (layer) => {
        const sides = { ...(isWider ? { width: percent } : {}), ...(isMonoBelow ? { monoBelowHz } : {}) };
        layer.effects.push(effectSchema.parse({ kind: 'stereo', id: 'sides', ...sides }));
      },
      freedoms: freedoms('sides', 'space', {
        ...(isWider ? { width: 0.06 } : {}),
        ...(isMonoBelow ? { monoBelowHz: 0.06 } : {}),
      }),
      brings: ['sides'],
    },
  ];
}

/** Halvings of the way from none to all. */
const HALVINGS = 10;

/** How far voices have to be spread for that level of the sides against the middle, 0 to 1. */
function spreadFor(count: number, sidesDb: number): number {
  let [low, high] = [0, 1];
  for (let step = 0; step < HALVINGS; step++) {
    const middle = (low + high) / 2;
    if (sidesOverMiddleDb(count, middle) < sidesDb) low = middle;
    else high = middle;
  }
  return high;
}
