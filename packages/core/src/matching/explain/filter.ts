import { filterSchema } from '../../patch/schemas/shapingSchema';
import { filterContour } from '../filterContour';
import { type Explainer, type Hypothesis, freedoms, route, routeId, short } from './hypothesis';

export const FILTER_FALL = 'filter fall';
const CUTOFF = { moduleId: 'filter-1', parameter: 'cutoffHz' };

/** A low-pass over the partials, standing, falling by a contour of its own, or going round. */
export const explainFilter: Explainer = ({ note }) => {
  const { brightness, motion } = note.reading.traits;
  if (brightness.cutoffHz === null || brightness.filterKind === 'highpass') return [];
  const moving = filterContour(note);
  const turning = motion.find(({ of, cause }) => of === 'brightness' && cause === 'filter');
  const restHz = turning ? (turning.middle ?? brightness.cutoffHz) : (moving?.restHz ?? brightness.cutoffHz);
  const resonanceDb = Math.max(0, brightness.resonanceDb ?? 0);
  const lowpass: Hypothesis = {
    name: 'low-pass',
    stage: 'filter',
    confidence: brightness.confidence,
    why: `partials fall off over ${short(brightness.cutoffHz)} Hz by ${brightness.slopeDbPerOctave ?? 12} dB an octave`,
    apply: (layer) => {
      layer.filters[0] = filterSchema.parse({
        kind: 'lowpass',
        id: 'filter-1',
        cutoffHz: Math.min(20000, Math.max(20, Math.round(restHz))),
        slopeDbPerOctave: brightness.slopeDbPerOctave ?? 12,
        resonanceDb: Math.min(36, Math.round(10 * resonanceDb) / 10),
      });
    },
    freedoms: freedoms('filter-1', 'filter', { cutoffHz: 0.04, resonanceDb: 0.04 }),
    brings: ['filter-1'],
  };
  if (!moving || turning) return [lowpass];
  const id = routeId('filter-contour', CUTOFF);
  const isFall = moving.envelope.attackSeconds < 0.02;
  return [
    lowpass,
    {
      name: isFall ? FILTER_FALL : 'filter contour',
      stage: 'filter',
      confidence: brightness.confidence,
      why: `the cutoff moves by ${short(moving.semitones)} st within the note, down to ${short(moving.restHz)} Hz`,
      apply: (layer) => {
        const envelope = { ...moving.envelope, name: isFall ? 'Filter fall' : 'Filter contour' };
        route(layer, envelope, CUTOFF, Math.min(120, moving.semitones));
      },
      freedoms: [
        ...freedoms(id, 'filter', { amount: 0.03 }),
        ...freedoms('filter-contour', 'filter', {
          decaySeconds: 0.04,
          // Frames are as long as it, and blur the two.
          ...(moving.envelope.holdSeconds > 0.005 ? { holdSeconds: 0.04 } : {}),
          ...(moving.envelope.sustainDb > -60 ? { sustainDb: 0.03 } : {}),
          ...(isFall ? {} : { attackSeconds: 0.04 }),
        }),
      ],
      brings: [id],
    },
  ];
};

/** A high-pass under weak low partials, or a notch that goes through them once. */
export const explainSecondFilter: Explainer = ({ note }) => {
  const { brightness } = note.reading.traits;
  const { notch, highpassHz, highpassSlopeDbPerOctave } = brightness;
  if (notch) {
    const target = { moduleId: 'filter-2', parameter: 'cutoffHz' };
    const semitones = 12 * Math.log2(notch.toHz / notch.fromHz);
    const id = routeId('notch-way', target);
    return [
      {
        name: 'moving notch',
        stage: 'filter',
        confidence: brightness.confidence,
        why: `a notch goes from ${short(notch.fromHz)} to ${short(notch.toHz)} Hz in ${short(notch.seconds)} s`,
        apply: (layer) => {
          layer.filters[1] = filterSchema.parse({ kind: 'notch', id: 'filter-2', cutoffHz: notch.fromHz, q: 1 });
          const points = [
            { seconds: 0, value: 0 },
            { seconds: Math.max(0.01, notch.seconds), value: 1 },
          ];
          route(
            layer,
            { kind: 'contour', id: 'notch-way', name: 'Notch on its way', points },
            target,
            semitones,
            'bipolar',
          );
        },
        freedoms: [
          ...freedoms('filter-2', 'filter', { cutoffHz: 0.03, q: 0.06 }),
          ...freedoms(id, 'filter', { amount: 0.03 }),
        ],
        brings: ['filter-2', id],
      },
    ];
  }
  if (highpassHz === null) return [];
  return [
    {
      name: 'high-pass',
      stage: 'filter',
      confidence: 0.5,
      why: `partials under ${short(highpassHz)} Hz are weaker than the sources make them`,
      apply: (layer) => {
        layer.filters[1] = filterSchema.parse({
          kind: 'highpass',
          id: 'filter-2',
          cutoffHz: highpassHz,
          slopeDbPerOctave: [6, 12, 18, 24].includes(highpassSlopeDbPerOctave ?? 0) ? highpassSlopeDbPerOctave : 12,
        });
      },
      freedoms: freedoms('filter-2', 'filter', { cutoffHz: 0.04 }),
      brings: ['filter-2'],
    },
  ];
};
