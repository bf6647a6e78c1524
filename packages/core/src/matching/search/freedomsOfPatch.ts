import type { ModuleKind } from '../../parameters/table';
import { modulesOf } from '../../patch/modules';
import type { Layer, Patch } from '../../patch/schema';
import type { Freedom, Stage } from '../explain/hypothesis';

/** Which numbers of a kind of module are searched for, in which stage, and the first step on its ruler. */
const searched: { readonly [K in ModuleKind]?: readonly [Stage, Readonly<Record<string, number>>] } = {
  shape: ['sources', { levelDb: 0.04, pulseWidth: 0.04, morph: 0.08, unisonDetuneCents: 0.04 }],
  wavetable: ['sources', { levelDb: 0.04, position: 0.08, unisonDetuneCents: 0.04 }],
  partials: ['sources', { levelDb: 0.04, unisonDetuneCents: 0.04 }],
  noise: ['noise', { levelDb: 0.05, lowHz: 0.06, highHz: 0.06 }],
  fm: ['sources', { index: 0.05 }],
  ringTone: ['sources', { depth: 0.08 }],
  lowpass: ['filter', { cutoffHz: 0.05, resonanceDb: 0.05 }],
  highpass: ['filter', { cutoffHz: 0.05, resonanceDb: 0.05 }],
  bandpass: ['filter', { cutoffHz: 0.05, resonanceDb: 0.05 }],
  ladder: ['filter', { cutoffHz: 0.05, resonance: 0.05 }],
  notch: ['filter', { cutoffHz: 0.04, q: 0.06 }],
  peak: ['filter', { cutoffHz: 0.04, q: 0.06, gainDb: 0.06 }],
  formant: ['filter', { vowel: 0.1, shiftSemitones: 0.06, resonanceDb: 0.06 }],
  shaper: ['dirt', { driveDb: 0.1 }],
  envelope: ['level', { attackSeconds: 0.04, decaySeconds: 0.04, sustainDb: 0.03, releaseSeconds: 0.04 }],
  lfo: ['movement', { rateHz: 0.01, startPhaseCycles: 0.2 }],
  chorus: ['movement', { mix: 0.08, rateHz: 0.04 }],
  phaser: ['movement', { mix: 0.08, rateHz: 0.04 }],
  delay: ['space', { mix: 0.08, feedback: 0.04 }],
  reverb: ['space', { mix: 0.1, rt60Seconds: 0.05 }],
  widener: ['space', { mix: 0.1 }],
};

const ROUTE_STEP = 0.03;

/** Numbers of any patch that a search may turn, where nothing is known of how it was made. */
export function freedomsOfPatch({ layers: [layer] }: Patch): Freedom[] {
  const isOn = (id: string) => isSwitchedOn(layer, id);
  const ofModules = modulesOf(layer).flatMap(({ id, kind, values }) => {
    const entry = searched[kind];
    if (!entry || !isOn(id)) return [];
    const [stage, steps] = entry;
    return Object.entries(steps)
      .filter(([name]) => !(name === 'unisonDetuneCents' && values.unisonVoices < 2))
      .filter(([name]) => !(name === 'levelDb' && layer.sources.length === 1))
      .map(([parameter, step]): Freedom => ({ moduleId: id, parameter, stage: stageOf(layer, id, stage), step }));
  });
  const ofRoutes = layer.routes
    .filter(({ on, amount }) => on && amount !== 0)
    .map(({ id, from }): Freedom => ({
      moduleId: id,
      parameter: 'amount',
      stage: stageOf(layer, from, 'movement'),
      step: ROUTE_STEP,
    }));
  return [...ofModules, ...ofRoutes];
}

function isSwitchedOn(layer: Layer, id: string): boolean {
  const module = [...layer.sources, ...layer.interactions, ...layer.filters, layer.shaper, ...layer.effects].find(
    (own) => own.id === id,
  );
  return module
    ? module.on
    : id === layer.amp.id || layer.routes.some(({ on, from, amount }) => on && amount !== 0 && from === id);
}

/** A modulator belongs to the stage of what it moves. */
function stageOf(layer: Layer, id: string, stage: Stage): Stage {
  const moved = layer.routes.find(({ from }) => from === id)?.to;
  if (!moved) return stage;
  if (moved.parameter === 'cutoffHz') return 'filter';
  return moved.parameter === 'semitones' ? 'pitch' : stage;
}
