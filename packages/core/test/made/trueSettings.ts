/** Numbers that a tone was made with, and where a patch that explains it has them. */
import { DECAY_TAUS, RELEASE_TAUS, compileEnvelope, envelopeValue } from '../../src/patch/envelopeCurve';
import type { Layer } from '../../src/patch/schema';

export interface TrueSetting {
  kind: 'part' | 'cutoff' | 'detune' | 'interval' | 'ratio' | 'index' | 'rate' | 'time' | 'depth';
  name: string;
  wanted: number;
  /** What a layer has in its place; null where there is no such thing. */
  found: (layer: Layer) => number | null;
  /** As near as is asked of its kind. */
  isRight: (found: number) => boolean;
}

type Finder = TrueSetting['found'];

const share = (kind: TrueSetting['kind'], tolerance: number) => (name: string, wanted: number, found: Finder) => ({
  kind,
  name,
  wanted,
  found,
  isRight: (x: number) => Math.abs(x / wanted - 1) <= tolerance,
});
const time = share('time', 0.25);
const rate = share('rate', 0.03);

/** A parameter of a module at a time of its note, with what moves it but for LFOs. */
function movedAt(layer: Layer, moduleId: string, parameter: string, base: number, seconds: number): number {
  return layer.routes
    .filter(({ on, to }) => on && to.moduleId === moduleId && to.parameter === parameter)
    .reduce((sum, { from, amount }) => {
      const modulator = layer.modulators.find(({ id }) => id === from);
      return modulator?.kind === 'envelope' ? sum + amount * envelopeValue(compileEnvelope(modulator), seconds) : sum;
    }, base);
}

/** Something that has to be there, whatever its numbers. */
const part = (name: string, isThere: (layer: Layer) => boolean): TrueSetting => ({
  kind: 'part',
  name,
  wanted: 1,
  found: (layer) => (isThere(layer) ? 1 : null),
  isRight: () => true,
});
export const noisePart = part('noise', ({ sources }) => sources.some(({ kind }) => kind === 'noise'));
export const curvePart = part(
  'a curve',
  ({ shaper, effects }) => shaper.on || effects.some(({ kind }) => kind === 'drive'),
);
export const crushPart = part('fewer bits', ({ effects }) => effects.some(({ kind }) => kind === 'reducer'));
export const formantPart = part('resonances', ({ effects }) => effects.some(({ id }) => id === 'formants'));

/** A low-pass at a time of the note, within a third of an octave. */
export const cutoffAt = (seconds: number, hz: number): TrueSetting => ({
  kind: 'cutoff',
  name: `cutoff after ${seconds} s`,
  wanted: hz,
  found: (layer) => {
    const filter = layer.filters.find((one) => one.on && (one.kind === 'lowpass' || one.kind === 'ladder'));
    if (!filter || !('cutoffHz' in filter)) return null;
    return filter.cutoffHz * 2 ** (movedAt(layer, filter.id, 'cutoffHz', 0, seconds) / 12);
  },
  isRight: (found) => Math.abs(Math.log2(found / hz)) <= 1 / 3,
});

/** A falling low-pass, soon after its start and when it has come down. */
export const fallingCutoff = (from: number, to: number, tau: number): TrueSetting[] =>
  [0.02, Math.min(1, 4 * tau)].map((t) => cutoffAt(t, to * (from / to) ** Math.exp(-t / tau)));

/** Between the outermost voices, in cents. */
export const detuneOf = (cents: number): TrueSetting =>
  share('detune', 0.15)('detune', cents, ({ sources }) => {
    const spread = sources.flatMap((source) =>
      'unisonVoices' in source && source.unisonVoices > 1 ? [source.unisonDetuneCents] : [],
    );
    return spread.length > 0 ? Math.max(...spread) : null;
  });

/** A source of one of some shapes at an interval from the note. */
export const sourceAt = (shapes: readonly string[], semitones: number): TrueSetting => ({
  kind: 'interval',
  name: `${shapes[0]} at ${semitones} st`,
  wanted: semitones,
  found: ({ sources }) => {
    const found = sources.filter((source) => 'shape' in source && shapes.includes(source.shape));
    const near = found.map((source) => ('semitones' in source ? source.semitones : Infinity));
    return near.sort((a, b) => Math.abs(a - semitones) - Math.abs(b - semitones))[0] ?? null;
  },
  isRight: (found) => found === semitones,
});

/** How far up the modulator of an FM pair stands from its carrier, and its index at a time of the note. */
export const fmSettings = (ratio: number, seconds: number, index: number): TrueSetting[] => {
  const pairOf = ({ interactions }: Layer) => interactions.find((one) => one.kind === 'fm' && one.from !== one.to);
  return [
    share('ratio', 0.01)('FM ratio', ratio, (layer) => {
      const pair = pairOf(layer);
      if (pair?.kind !== 'fm') return null;
      const [modulator, carrier] = [pair.from, pair.to].map((id) => ratioOf(layer, id));
      return modulator && carrier ? modulator / carrier : null;
    }),
    share('index', 0.15)(`FM index after ${seconds} s`, index, (layer) => {
      const pair = pairOf(layer);
      return pair?.kind === 'fm' ? movedAt(layer, pair.id, 'index', pair.index, seconds) : null;
    }),
  ];
};

function ratioOf({ sources }: Layer, id: string | undefined): number | null {
  const source = sources.find((one) => one.id === id);
  if (!source || !('ratio' in source)) return null;
  return source.tuning === 'ratio' ? source.ratio : 2 ** (source.semitones / 12);
}

/** An LFO's rate, wherever it goes. */
export const lfoRate = (hz: number): TrueSetting =>
  rate('LFO rate', hz, ({ modulators }) => {
    const rates = modulators.flatMap((one) => (one.kind === 'lfo' ? [one.rateHz] : []));
    return rates.sort((a, b) => Math.abs(Math.log(a / hz)) - Math.abs(Math.log(b / hz)))[0] ?? null;
  });

/** Time constants of the level: of its fall, of its end; and how long it rises. */
export const levelTimes = ({ attack, decay, release }: { attack?: number; decay?: number; release?: number }) => [
  ...(attack === undefined ? [] : [time('attack', attack, ({ amp }) => amp.attackSeconds)]),
  ...(decay === undefined ? [] : [time('decay', decay * DECAY_TAUS, ({ amp }) => amp.decaySeconds)]),
  ...(release === undefined ? [] : [time('release', release * RELEASE_TAUS, ({ amp }) => amp.releaseSeconds)]),
];

/** How far the pitch comes from, soon after the start, and after another time constant. */
export const slideSettings = (semitones: number, tau: number): TrueSetting[] =>
  [0.5 * tau, 1.5 * tau].map((t) =>
    share('depth', 0.25)(
      `pitch after ${(1000 * t).toFixed(0)} ms`,
      semitones * Math.exp(-t / tau),
      (layer) => movedAt(layer, 'layer', 'semitones', 0, t) || null,
    ),
  );

/** Of a movement of the pitch, from its middle, in cents. */
export const vibratoDepth = (cents: number): TrueSetting =>
  share('depth', 0.25)('vibrato depth', cents, ({ routes, modulators }) => {
    const own = routes.find(
      ({ from, to }) =>
        to.parameter === 'semitones' && modulators.some(({ id, kind }) => id === from && kind === 'lfo'),
    );
    return own ? 100 * Math.abs(own.amount) : null;
  });

/** Time of an echo and of a room. */
export const echoTime = (seconds: number): TrueSetting =>
  rate('echo time', seconds, ({ effects }) => {
    const delay = effects.find((effect) => effect.kind === 'delay');
    return delay?.kind === 'delay' ? delay.leftSeconds : null;
  });
export const roomTime = (seconds: number): TrueSetting =>
  time('room time', seconds, ({ effects }) => {
    const reverb = effects.find((effect) => effect.kind === 'reverb');
    return reverb?.kind === 'reverb' ? reverb.rt60Seconds : null;
  });
export const ringHz = (hz: number): TrueSetting =>
  rate('ring tone', hz, ({ interactions }) => {
    const ring = interactions.find((one) => one.kind === 'ringTone');
    return ring?.kind === 'ringTone' ? ring.toneHz : null;
  });
