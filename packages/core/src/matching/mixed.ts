import { removeFromLayer } from '../patch/edits/edit';
import type { Patch } from '../patch/schema';
import type { Freedom } from './explain/hypothesis';
import type { Explained } from './plain';
import { calibrated } from './search/calibrate';
import { copied } from './search/parameterSpace';
import { type Refined, refine } from './search/refine';
import type { Run } from './search/run';

/** Of the renders, on top of what the plain patch takes. */
const MIXED_SHARE = 0.15;

/** The plain patch with the spectrum of the cut as its source; undefined where sources move one another. */
export async function mixedPatch(plain: Explained, copy: Patch, run: Run): Promise<Refined | undefined> {
  const patch = exchanged(plain.patch, copy);
  if (!patch) return undefined;
  const start = await calibrated({ patch, distance: await run.judge.distance(patch) }, run, run.judge);
  const position: Freedom = {
    moduleId: patch.layers[0].sources[0].id,
    parameter: 'position',
    stage: 'sources',
    step: 0.2,
  };
  const maxRenders = Math.round(MIXED_SHARE * run.total());
  return run.staged(
    'mixture',
    () => refine(start, [...plain.freedoms, position].filter(run.isFree), run.judge, { ...run.limits, maxRenders }),
    { isBeside: true },
  );
}

/**
 * The plain patch with the copy's wavetable for all sources that have a pitch; undefined where those move one
 * another.
 */
export function exchanged(plain: Patch, copy: Patch): Patch | undefined {
  const [source] = copy.layers[0].sources;
  if (source.kind !== 'wavetable') return undefined;
  const mixed = copied(plain);
  const [layer] = mixed.layers;
  if (layer.interactions.length > 0) return undefined;
  const [main] = layer.sources;
  const spread =
    'unisonVoices' in main
      ? { unisonVoices: main.unisonVoices, unisonDetuneCents: main.unisonDetuneCents, unisonSpread: main.unisonSpread }
      : {};
  const table = { ...source, id: main.id, name: 'From the cut', position: 50, ...spread };
  const noises = layer.sources.filter(({ kind }) => kind === 'noise');
  const replaced = layer.sources.filter((own) => !noises.includes(own));
  // What moved one of them has no place in the table, which moves as the cut does.
  const rest = replaced.reduce((left, { id }) => removeFromLayer(left, id), layer);
  const moving = new Set(rest.routes.map(({ from }) => from));
  const modulators = rest.modulators.filter(({ id }) => moving.has(id));
  mixed.layers = [{ ...rest, sources: [table, ...noises], modulators }];
  mixed.wavetables = copy.wavetables;
  return mixed;
}
