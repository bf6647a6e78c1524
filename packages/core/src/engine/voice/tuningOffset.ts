import { SILENT_DB } from '../../parameters/build';
import { gainFromDecibels } from '../../dsp/decibels';
import type { Layer, Modulator, Patch, Route } from '../../patch/schema';
import { contourValue, compileContour } from '../modulators/contour';
import { compileLfo, shapeAt } from '../modulators/lfo';

/** Offsets smaller than this are no fault: the just-noticeable difference of pitch (Zwicker & Fastl). */
const NOTICED_CENTS = 5;
const TURN_POINTS = 256;

/**
 * How far a route to a pitch puts the note's average out of tune while it is held, in cents; undefined when
 * it does not, when that is the player's doing (velocity, wheel), or when the route goes elsewhere.
 */
export function tuningOffsetCents(patch: Patch, layer: Layer, route: Route): number | undefined {
  if (!route.on || route.to.parameter !== 'semitones') return undefined;
  const macro = patch.macros.find(({ id }) => id === route.from);
  const modulator = layer.modulators.find(({ id }) => id === route.from);
  const mean = macro ? macro.value / 100 : modulator && heldMean(modulator, patch.bpm);
  if (mean === undefined) return undefined;
  const cents = 100 * route.amount * (route.polarity === 'bipolar' ? 2 * mean - 1 : mean);
  return Math.abs(cents) >= NOTICED_CENTS ? cents : undefined;
}

/** Mean 0..1 of a modulator over a long held note. */
function heldMean(modulator: Modulator, bpm: number): number | undefined {
  switch (modulator.kind) {
    case 'envelope':
      return modulator.sustainDb <= SILENT_DB ? 0 : gainFromDecibels(modulator.sustainDb);
    case 'contour':
      return 0.5 + 0.5 * contourValue(compileContour(modulator), Infinity);
    case 'lfo': {
      if (modulator.run === 'oneShot') return shapeAt(compileLfo(modulator, bpm, NO_SLOTS), 1 - 1e-9, 1);
      const program = compileLfo(modulator, bpm, NO_SLOTS);
      if (program.shape === 'randomSteps' || program.shape === 'randomCurve') return 0.5;
      let sum = 0;
      for (let i = 0; i < TURN_POINTS; i++) sum += shapeAt(program, (i + 0.5) / TURN_POINTS, 1);
      return sum / TURN_POINTS;
    }
    case 'note':
      return modulator.of === 'random' || modulator.of === 'counter' || modulator.of === 'unison' ? 0.5 : undefined;
  }
}

const NO_SLOTS = { rateHz: 0, startPhaseCycles: 0, delaySeconds: 0, fadeInSeconds: 0, smoothing: 0 };
