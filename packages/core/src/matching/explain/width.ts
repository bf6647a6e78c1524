import { effectSchema } from '../../patch/schemas/effectSchema';
import { type Explainer, freedoms, short } from './hypothesis';

/** Differences of the sides that are not heard. */
const LEAST_WIDTH_DB = -26;

/** What makes the sides differ: voices spread over them, or late copies across. */
export const explainWidth: Explainer = ({ note }) => {
  const { width, unison, sources } = note.reading.traits;
  const widest = Math.max(-Infinity, ...width.bands.map(({ widthDb }) => widthDb));
  if (widest < LEAST_WIDTH_DB || width.cause === 'reverb') return [];
  const isSpread = unison.detuneCents !== null && width.cause !== 'delay';
  const count = Math.max(1, sources.parts.length);
  const ids = Array.from({ length: count }, (_, i) => `source-${i + 1}`);
  if (isSpread) {
    return [
      {
        name: 'voices on both sides',
        stage: 'space',
        confidence: width.confidence,
        why: `the sides differ by ${short(widest)} dB against what they share, as spread voices make them`,
        apply: (layer) => {
          for (const source of layer.sources)
            if ('unisonVoices' in source && source.unisonVoices > 1) source.unisonSpread = 60;
        },
        freedoms: ids.flatMap((id) => freedoms(id, 'space', { unisonSpread: 0.12 })),
        brings: [],
      },
    ];
  }
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
