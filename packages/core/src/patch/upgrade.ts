/**
 * Patches of earlier versions are brought up to the present one step by step, so that old studies and files
 * still open.
 */

type Json = Record<string, unknown>;
type Upgrade = (patch: Json) => Json;

/** By the version that is left. */
const upgrades: Record<number, Upgrade> = { 1: toVersion2, 2: toVersion3, 3: toVersion4 };

/** The document at the newest version that there is a way to; what it is then is for the schema to check. */
export function upgradePatch(patch: Json): Json {
  let upgraded = patch;
  for (let step = upgrades[upgraded.version as number]; step; step = upgrades[upgraded.version as number]) {
    upgraded = step(upgraded);
  }
  return upgraded;
}

/**
 * Version 1 had one low-pass a layer, unison voices that always started by chance, and contours whose routes
 * always went both ways.
 */
function toVersion2(patch: Json): Json {
  return { ...patch, version: 2, layers: Array.isArray(patch.layers) ? patch.layers.map(upgradeLayer) : patch.layers };
}

function upgradeLayer(layer: Json): Json {
  const { filter, ...others } = layer;
  const contours = new Set(
    list(layer.modulators)
      .filter(({ kind }) => kind === 'contour')
      .map(({ id }) => id),
  );
  return {
    ...others,
    sources: list(layer.sources).map((source) => ({
      ...source,
      startPhaseRandom: (source.unisonVoices as number) > 1 ? 100 : 0,
    })),
    filters: [filter, { kind: 'highpass', id: 'filter-b', on: false }],
    shaper: { kind: 'shaper', id: 'shaper', on: false },
    routes: list(layer.routes).map((route) => ({
      ...route,
      polarity: contours.has(route.from) ? 'bipolar' : 'unipolar',
    })),
  };
}

const phaseShapes: Record<string, string> = {
  bend: 'crowded',
  skew: 'leaning',
  sync: 'hardSync',
  windowedSync: 'hardSyncFaded',
  mirror: 'thereAndBack',
  step: 'stairs',
  drawn: 'drawnTime',
};
const curves: Record<string, string> = { sineFold: 'roundFold', fold: 'straightFold' };

/**
 * Version 2 had other names for what shapes a phase and for two curves, nothing that made up for what narrow
 * filters and vocoders take away, and a tempo of 120 where nobody had set another.
 */
function toVersion3(patch: Json): Json {
  const effects = (owner: Json): Json => ({
    ...owner,
    effects: list(owner.effects).map((effect) => ({
      ...renamed(effect, 'curve', curves),
      ...(effect.kind === 'vocoder' ? { makeUp: false } : {}),
    })),
  });
  const layer = (old: Json): Json => ({
    ...effects(old),
    sources: list(old.sources).map((source) => renamed(source, 'phaseShape', phaseShapes)),
    shaper: typeof old.shaper === 'object' ? renamed(old.shaper as Json, 'curve', curves) : old.shaper,
    filters: list(old.filters).map((filter) =>
      filter.kind === 'bandpass' || filter.kind === 'formant' ? { ...filter, makeUp: false } : filter,
    ),
  });
  const own = patch.bpm !== undefined && patch.bpm !== 120;
  return {
    ...effects(patch),
    version: 3,
    tempoFrom: own ? 'hand' : 'track',
    layers: Array.isArray(patch.layers) ? list(patch.layers).map(layer) : patch.layers,
    groups: list(patch.groups).map(effects),
  };
}

/** Version 3 called a filter that is held still a phaser, and the effect that moves by another name. */
function toVersion4(patch: Json): Json {
  const effects = (owner: Json): Json => ({
    ...owner,
    effects: list(owner.effects).map((effect) => renamed(effect, 'kind', { phasing: 'phaser' })),
  });
  const layer = (old: Json): Json => ({
    ...effects(old),
    filters: list(old.filters).map((filter) => renamed(filter, 'kind', { phaser: 'allPass' })),
  });
  return {
    ...effects(patch),
    version: 4,
    layers: Array.isArray(patch.layers) ? list(patch.layers).map(layer) : patch.layers,
    groups: list(patch.groups).map(effects),
  };
}

/** A module with the new name of one of its choices; a drawn line, which has the same field, is left. */
function renamed(module: Json, field: string, names: Record<string, string>): Json {
  const old = module[field];
  return typeof old === 'string' && old in names ? { ...module, [field]: names[old] } : module;
}

const list = (value: unknown): Json[] => (Array.isArray(value) ? (value as Json[]) : []);
