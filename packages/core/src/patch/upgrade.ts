/** Patches of earlier versions are brought up to the present one step by step, so that old studies and files still open. */

type Json = Record<string, unknown>;
type Upgrade = (patch: Json) => Json;

/** By the version that is left. */
const upgrades: Record<number, Upgrade> = { 1: toVersion2 };

/** The document at the newest version that there is a way to; what it is then is for the schema to check. */
export function upgradePatch(patch: Json): Json {
  let upgraded = patch;
  for (let step = upgrades[upgraded.version as number]; step; step = upgrades[upgraded.version as number]) {
    upgraded = step(upgraded);
  }
  return upgraded;
}

/**
 * Version 1 had one low-pass a layer, unison voices that always started by chance, and contours whose routes always went
 * both ways.
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

const list = (value: unknown): Json[] => (Array.isArray(value) ? (value as Json[]) : []);
