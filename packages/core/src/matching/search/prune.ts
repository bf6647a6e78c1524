import { removeFromLayer } from '../../patch/edits/edit';
import type { Layer, Patch } from '../../patch/schema';
import type { Hypothesis } from '../explain/hypothesis';
import type { Judge } from './judge';
import { copied } from './parameterSpace';
import type { Refined } from './refine';
import { settingsOf } from './settings';

/** What a module has to be worth, and each of its settings. */
export const MODULE_PRICE_JND = 0.15;
export const SETTING_PRICE_JND = 0.02;

/** What was surely seen may say less of the distance: so much is taken off its price. */
const SEEN_IS_WORTH = 0.6;

export interface Pruned extends Refined {
  kept: { hypothesis: Hypothesis; worthJnd: number | null }[];
  dropped: { hypothesis: Hypothesis; worthJnd: number }[];
}

/**
 * Takes every module and route away in turn; one stays only when the distance grows by more than it costs.
 * What is worth least goes first, since others may then be worth more.
 */
export async function prune(
  start: Refined,
  hypotheses: readonly Hypothesis[],
  judge: Judge,
  isLocked: (id: string) => boolean,
): Promise<Pruned> {
  let best = start;
  let open = hypotheses.filter(({ brings }) => brings.length > 0 && !brings.some(isLocked));
  const fixed = hypotheses.filter((hypothesis) => !open.includes(hypothesis));
  const dropped: Pruned['dropped'] = [];
  let kept: Pruned['kept'] = [];
  for (;;) {
    const { patch: whole, distance: before } = best;
    const patches = open.map((hypothesis) => without(whole, hypothesis));
    const distances = await judge.distances(patches);
    const tried = open.map((hypothesis, i) => {
      const [patch, distance] = [patches[i], distances[i]];
      const settings = settingsOf(whole) - settingsOf(patch);
      const worthJnd = distance - before;
      const price = MODULE_PRICE_JND + SETTING_PRICE_JND * settings;
      const isWorth = worthJnd > price * (1 - SEEN_IS_WORTH * hypothesis.confidence);
      return { hypothesis, patch, distance, worthJnd, isWorth };
    });
    kept = tried.map(({ hypothesis, worthJnd }) => ({ hypothesis, worthJnd }));
    const [least] = tried.filter(({ isWorth }) => !isWorth).sort((a, b) => a.worthJnd - b.worthJnd);
    if (!least) break;
    best = { patch: least.patch, distance: least.distance };
    dropped.push({ hypothesis: least.hypothesis, worthJnd: least.worthJnd });
    open = open.filter((hypothesis) => hypothesis !== least.hypothesis);
  }
  const order = (hypothesis: Hypothesis) => hypotheses.indexOf(hypothesis);
  const all = [...fixed.map((hypothesis) => ({ hypothesis, worthJnd: null })), ...kept];
  return { ...best, kept: all.sort((a, b) => order(a.hypothesis) - order(b.hypothesis)), dropped };
}

/** The patch without what a hypothesis brought. */
export function without(patch: Patch, { brings }: Hypothesis): Patch {
  const changed = copied(patch);
  changed.layers[0] = brings.reduce(withoutPart, changed.layers[0]);
  return changed;
}

function withoutPart(layer: Layer, id: string): Layer {
  for (const fixed of [...layer.filters, layer.shaper]) {
    if (fixed.id === id) {
      fixed.on = false;
      return layer;
    }
  }
  const removed = layer.routes.find((route) => route.id === id);
  if (removed) {
    // What a contour opened is open without it.
    if (removed.to.parameter === 'letThrough')
      for (const source of layer.sources) if (source.id === removed.to.moduleId) source.letThrough = 100;
    const routes = layer.routes.filter((route) => route.id !== id);
    const modulators = layer.modulators.filter((modulator) => routes.some(({ from }) => from === modulator.id));
    return { ...layer, routes, modulators };
  }
  return removeFromLayer(layer, id);
}
