import { EQUALIZER_BANDS, numbersOfBand } from '../../parameters/effects/equalizer';
import type { LfoShape } from '../../parameters/shapes';
import { lfoShapes } from '../../parameters/shapes';
import { effectSchema } from '../../patch/schemas/effectSchema';
import { lfoSchema } from '../../patch/schemas/modulatorSchema';
import { filterSchema } from '../../patch/schemas/shapingSchema';
import type { Reading } from '../../reading/schema';
import { type Evidence, type Explainer, type Hypothesis, freedoms, route, routeId, short } from './hypothesis';

type Motion = Reading['traits']['motion'][number];

/** Shapes as they are told of a movement, in the words of an LFO. */
const shapeOf = (shape: string): LfoShape =>
  (lfoShapes as readonly string[]).includes(shape) ? (shape as LfoShape) : shape.startsWith('saw') ? 'falling' : 'sine';

/** What goes round within the note: level, cutoff, width of a pulse, or a comb of late copies. */
export const explainMotion: Explainer = ({ note, notes, bpm }) =>
  note.reading.traits.motion.flatMap((motion, i): Hypothesis[] => {
    const id = `motion-${i + 1}`;
    const isMono = note.reading.channels === 1;
    switch (motion.cause) {
      case 'tremolo':
      case 'ducking':
        if (motion.middle !== null) return [goingLows(motion, id, bpm, motion.middle)];
        return [turning(motion, id, bpm, { moduleId: 'layer', parameter: 'levelDb' }, motion.depth / 2)];
      case 'filter':
        return [
          withOpenRate(
            turning(motion, id, bpm, { moduleId: 'filter-1', parameter: 'cutoffHz' }, 6 * motion.depth),
            id,
            turnsWithin(notes, motion) < FEW_TURNS,
          ),
        ];
      case 'pulseWidth':
        return [turning(motion, id, bpm, { moduleId: 'source-1', parameter: 'pulseWidth' }, motion.depth / 2)];
      case 'chorus':
        return [
          comb(motion, id, 'chorus', delaysOf(motion, isMono), { mix: 0.08, delaySeconds: 0.02, depthSeconds: 0.04 }),
        ];
      case 'notch':
        return [goingNotch(motion, id, bpm)];
      case 'phaser': {
        const corners = cornersOf(motion, isMono);
        return [
          turnsWithin(notes, motion) < FEW_TURNS
            ? slowPhaser(motion, id, bpm, corners)
            : comb(motion, id, 'phaser', corners, { mix: 0.08, centreHz: 0.04, depthOctaves: 0.04, stages: 0.05 }),
        ];
      }
      default:
        return [];
    }
  });

/** Which notches go round does not tell how many there are; six is what a phaser has at first. */
const OTHER_STAGES = [2, 4, 8];
/** Of few turns it is heard where they begin. */
const FEW_TURNS = 3.2;

const turnsWithin = (notes: Evidence['notes'], { rateHz }: Motion) =>
  rateHz * Math.max(...notes.map(({ durationSeconds }) => durationSeconds));

const NAMES: Partial<Record<Motion['cause'], string>> = {
  filter: 'filter going round',
  pulseWidth: 'pulse width going round',
};

const within = (least: number, most: number, value: number) => Math.min(most, Math.max(least, value));

/** One late copy, whose delay goes round what was read. */
const delaysOf = ({ middle, depth }: Motion, isMono: boolean) =>
  middle === null
    ? {}
    : {
        voices: 1,
        width: isMono ? 0 : undefined,
        feedback: 0,
        // A chorus swings from its delay upwards.
        delaySeconds: within(0.0005, 0.05, (middle - depth / 2) / 1000),
        depthSeconds: within(0, 0.02, depth / 1000),
      };

/** All stages at one corner, which goes round what was read. */
const cornersOf = ({ middle, depth }: Motion, isMono: boolean) =>
  middle === null
    ? {}
    : {
        centreHz: within(20, 20000, middle),
        depthOctaves: within(0, 6, depth),
        spreadOctaves: 0,
        apartCycles: isMono ? 0 : undefined,
        feedback: 0,
      };

function turning(
  { of, rateHz, division, depth, unit, startCycles, shape, cause, confidence }: Motion,
  id: string,
  bpm: number | null,
  target: { moduleId: string; parameter: string },
  amount: number,
): Hypothesis {
  const name = NAMES[cause] ?? cause;
  const routed = routeId(id, target);
  const inTime = division !== null && bpm !== null;
  return {
    name,
    stage: 'movement',
    confidence,
    why: `${cause === 'pulseWidth' ? 'partials come and go by turns: the width of a pulse' : `the ${of}`} goes round ${short(rateHz)} times a second${inTime ? ` (${division})` : ''}, ${short(depth)} ${unit} deep`,
    apply: (layer) => {
      const numbers = { rateHz: Math.min(100, Math.max(0.01, rateHz)), division: inTime ? division : null };
      const title = name.charAt(0).toUpperCase() + name.slice(1);
      const start = { startPhaseCycles: startCycles ?? 0 };
      const lfo = lfoSchema.parse({ kind: 'lfo', id, name: title, shape: shapeOf(shape), ...numbers, ...start });
      route(layer, lfo, target, amount, 'bipolar');
    },
    freedoms: [
      ...freedoms(id, 'movement', { startPhaseCycles: startCycles === null ? 0.25 : 0.05 }),
      ...freedoms(routed, 'movement', { amount: target.parameter === 'levelDb' ? 0.02 : 0.03 }),
    ],
    brings: [routed],
  };
}

/** Of few turns the rate is not known to a per cent. */
const withOpenRate = (turned: Hypothesis, id: string, isOpen: boolean): Hypothesis =>
  isOpen ? { ...turned, freedoms: [...turned.freedoms, ...freedoms(id, 'movement', { rateHz: 0.03 })] } : turned;

/** A low shelf that an LFO moves, as where a kick gets room under a frequency. */
function goingLows(motion: Motion, id: string, bpm: number | null, belowHz: number): Hypothesis {
  const shelfId = `${id}-shelf`;
  const [hz, db, q] = numbersOfBand(0);
  const deep = within(0.5, 48, motion.depth);
  const turned = turning(motion, id, bpm, { moduleId: shelfId, parameter: db }, deep / 2);
  return {
    ...turned,
    name: `${motion.cause} of lows`,
    why: `what lies under ${short(belowHz)} Hz goes up and down ${short(motion.rateHz)} times a second, ${short(deep)} dB deep, what is over it does not`,
    apply: (layer, patch) => {
      const bands = Array.from({ length: EQUALIZER_BANDS }, (_, i) => ({ kind: i === 0 ? 'lowShelf' : 'off' }));
      const numbers = { [hz]: Math.round(belowHz), [db]: within(-24, 0, -deep / 2) };
      layer.effects.push(effectSchema.parse({ kind: 'equalizer', id: shelfId, name: 'Lows', bands, ...numbers }));
      turned.apply(layer, patch);
    },
    freedoms: [...freedoms(shelfId, 'movement', { [hz]: 0.03, [db]: 0.03, [q]: 0.05 }), ...turned.freedoms],
    brings: [shelfId, ...turned.brings],
  };
}

/** A notch that an LFO moves through the partials. */
function goingNotch(motion: Motion, id: string, bpm: number | null): Hypothesis {
  const place = { moduleId: 'filter-2', parameter: 'cutoffHz' };
  const turned = turning(motion, id, bpm, place, 6 * motion.depth);
  return {
    ...turned,
    name: 'notch going round',
    why: `a notch goes through the partials ${short(motion.rateHz)} times a second, ${short(motion.depth)} octaves wide`,
    apply: (layer, patch) => {
      const cutoffHz = within(20, 20000, motion.middle ?? 1000);
      layer.filters[1] = filterSchema.parse({ kind: 'notch', id: 'filter-2', cutoffHz, q: 1 });
      turned.apply(layer, patch);
    },
    freedoms: [...freedoms('filter-2', 'movement', { cutoffHz: 0.03, q: 0.06 }), ...turned.freedoms],
    brings: ['filter-2', ...turned.brings],
  };
}

/** A phaser whose notches an LFO moves, since its own begins anywhere. */
function slowPhaser(motion: Motion, id: string, bpm: number | null, corners: object): Hypothesis {
  const effectId = `${id}-phaser`;
  const turned = turning(motion, id, bpm, { moduleId: effectId, parameter: 'centreHz' }, 6 * motion.depth);
  const standing = comb(
    motion,
    effectId,
    'phaser',
    { ...corners, depthOctaves: 0 },
    { mix: 0.08, centreHz: 0.04, stages: 0.05 },
  );
  return {
    ...standing,
    apply: (layer, patch) => {
      standing.apply(layer, patch);
      turned.apply(layer, patch);
    },
    freedoms: [...standing.freedoms, ...turned.freedoms],
    brings: [...standing.brings, ...turned.brings],
  };
}

function comb(
  { rateHz, confidence }: Motion,
  id: string,
  kind: 'chorus' | 'phaser',
  numbers: object,
  steps: Record<string, number>,
): Hypothesis {
  return {
    name: kind,
    stage: 'movement',
    confidence,
    why: `notches go through the partials ${short(rateHz)} times a second`,
    apply: (layer) => {
      layer.effects.push(effectSchema.parse({ kind, id, rateHz: within(0.01, 20, rateHz), mix: 50, ...numbers }));
    },
    freedoms: freedoms(id, 'movement', steps).map((freedom) =>
      freedom.parameter === 'stages' ? { ...freedom, startsAt: OTHER_STAGES } : freedom,
    ),
    brings: [id],
  };
}
