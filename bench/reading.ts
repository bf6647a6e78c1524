import { performance } from 'node:perf_hooks';
import type { Check, Figure } from './reading/figure';
import { madeClaims, madeFacts } from './reading/made';
import * as movements from './reading/movements';
import { steadiness } from './reading/steadiness';
import * as surroundings from './reading/surroundings';
import * as tones from './reading/tones';

const figures: readonly Figure[] = [
  tones.pitch,
  tones.contours,
  tones.cutoffs,
  movements.vibratos,
  movements.glides,
  movements.motions,
  movements.divisions,
  movements.detunes,
  tones.noises,
  tones.standouts,
  tones.shapes,
  surroundings.rooms,
  surroundings.preDelays,
  surroundings.echoes,
  surroundings.widths,
  surroundings.crushes,
  surroundings.drives,
  surroundings.tempos,
  surroundings.keys,
  tones.nothing,
  madeFacts,
  madeClaims,
  steadiness,
];

/** So sure a value has to be for its line of the calibration. */
const SURE = 0.9;

/**
 * Reads sounds by formula and prints how many values are right, with every miss, and how many of those that
 * say they are sure.
 *
 * @param only figures whose name holds this
 */
export function reading(only = process.env.ONLY ?? ''): void {
  const sure: Check[] = [];
  for (const { name, share, checks } of figures.filter((figure) => figure.name.includes(only))) {
    const started = performance.now();
    const all = [...checks()];
    const misses = all.filter(({ right }) => !right);
    const got = 1 - misses.length / all.length;
    const seconds = ((performance.now() - started) / 1000).toFixed(0);
    console.log(
      `${got >= share ? 'ok  ' : 'MISS'} ${(100 * got).toFixed(1).padStart(5)} % of ${String(all.length).padStart(3)} (wanted ${100 * share} %) ${name} [${seconds} s]`,
    );
    for (const { words, confidence } of misses) {
      console.log(`         ${words}${confidence === undefined ? '' : ` (confidence ${confidence.toFixed(2)})`}`);
    }
    sure.push(...all.filter(({ confidence }) => (confidence ?? 0) >= SURE));
  }
  const right = sure.filter((one) => one.right).length / Math.max(1, sure.length);
  console.log(`calibration: ${(100 * right).toFixed(1)} % of ${sure.length} values that say ${SURE} or more are right`);
}
