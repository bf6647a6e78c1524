import { createRandom } from '../../test/signals';
import { type MadeName, madeTone } from '../../test/made/tones';
import { renderPatch } from '../engine/render';
import { parsePatch } from '../patch/parse';
import type { Layer, Patch } from '../patch/schema';
import { type Audio, sliceAudio } from '../reading/audio';
import { isolatedTone } from '../reading/isolation/isolate';
import { NO_ISOLATION } from '../reading/isolation/settings';
import { readTone } from '../reading/read';
import { gatherEvidence } from './evidence';
import { structuresOf } from './explain/structures';
import { type Candidate, type MatchOptions, type MatchState, matchTone } from './match';
import { phraseOf } from './phrase';
import { type Helper, createHelper } from './search/helper';
import { createJudge } from './search/judge';
import { settingsOf } from './search/settings';
import { thorough } from '../../test/thorough';

const RATE_HZ = 44100;
const SEED = 5;

/** Tones by formulas that share nothing with the engine. */
const toneOf = (name: MadeName): Audio => ({
  channels: madeTone(name, SEED).channels.map((channel) => Float32Array.from(channel)),
  sampleRateHz: RATE_HZ,
});

const layerOf = ({ layers: [layer] }: Patch): Layer => layer;
const lowPassOf = (patch: Patch) => layerOf(patch).filters[0] as Extract<Layer['filters'][0], { kind: 'lowpass' }>;
const sourcesOf = (patch: Patch) =>
  layerOf(patch).sources.map((source) => ('shape' in source ? `${source.shape} ${source.semitones}` : source.kind));

describe('A saw behind a falling filter, over a sine an octave below', () => {
  let candidates: Candidate[];
  let best: Candidate;
  beforeAll(async () => {
    const audio = sliceAudio(toneOf('filtered saw bass over a sine sub'), 0, 1.2);
    ({ candidates } = await matchTone(audio, { renders: 150 }));
    [best] = candidates;
  });

  it('is rebuilt as that, plainer than its copy and no further away', () => {
    const copy = candidates.find(({ kind }) => kind === 'copy')!;
    expect(best.kind).toBe('plain');
    expect(best.overallJnd).toBeLessThan(copy.overallJnd + 1);
    expect(best.settings).toBeLessThan(copy.settings / 3);
    expect(sourcesOf(best.patch).sort()).toEqual(['saw 0', 'sine -12']);
    const [filter] = layerOf(best.patch).filters;
    expect(filter).toMatchObject({ kind: 'lowpass', on: true });
    expect(layerOf(best.patch).routes.map(({ to }) => to.parameter)).toContain('cutoffHz');
  });

  it('has a reason and what it is worth beside every module', () => {
    const about = (name: string) => best.why.find((sentence) => sentence.startsWith(`${name}: `));
    for (const name of ['saw', 'sub sine', 'amp contour', 'low-pass', 'filter fall']) expect(about(name)).toBeTruthy();
    expect(about('low-pass')).toMatch(/without it \d+\.\d JND more$/);
  });

  it('is a valid patch, named by what its parts are', () => {
    const patch = parsePatch(JSON.parse(JSON.stringify(best.patch)));
    expect(
      layerOf(patch)
        .sources.map(({ name }) => name)
        .sort(),
    ).toEqual(['saw', 'sub sine']);
    expect(settingsOf(patch)).toBe(best.settings);
  });
});

/** The patch that is recommended after a short search. */
const matchedPatch = async (audio: Audio, options: MatchOptions): Promise<Patch> =>
  (await matchTone(audio, options)).candidates[0].patch;

/** What a patch is to have, by the tone that has it. */
const traces: [MadeName, (layer: Layer) => boolean][] = [
  ['square lead with vibrato', ({ modulators }) => modulators.some(({ kind }) => kind === 'lfo')],
  ['saw ringed low', ({ interactions }) => interactions.some(({ kind }) => kind === 'ringTone')],
  ['metal with a high modulator', ({ interactions }) => interactions.some(({ kind }) => kind === 'fm')],
  ['square lead with echoes', ({ effects }) => effects.some(({ kind }) => kind === 'delay')],
  [
    'three saws behind a low-pass',
    ({ sources }) => sources.some((source) => 'unisonVoices' in source && source.unisonVoices > 1),
  ],
];

thorough.describe('What a tone is made with', () => {
  let plainSaw: Patch;
  beforeAll(async () => {
    plainSaw = await matchedPatch(toneOf('plain saw'), { renders: 40, structure: 'plain' });
  });

  it.each(traces)('is in the patch of a %s, and not in that of a plain saw', async (name, has) => {
    const { candidates } = await matchTone(toneOf(name), { renders: 40, structure: 'plain' });
    expect(has(layerOf(candidates[0].patch))).toBe(true);
    expect(has(layerOf(plainSaw))).toBe(false);
    expect(candidates[0].overallJnd).toBeLessThan(3);
  });
});

thorough.it('keeps the grid that values stand on, which is only right at the level of the cut', async () => {
  const { effects } = layerOf(await matchedPatch(toneOf('crushed saw'), { renders: 120, structure: 'plain' }));
  expect(effects.map(({ kind }) => kind)).toContain('reducer');
});

thorough.it('thinks of a sine in a curve where partials grow with the level', () => {
  const names = structuresOf(gatherEvidence(toneOf('folded sine'))).map(({ name }) => name);
  expect(names).toContain('a sine into a curve');
  expect(structuresOf(gatherEvidence(toneOf('plain saw')))).toHaveLength(1);
});

describe('The search', () => {
  // More of the note says the same.
  const audio = sliceAudio(toneOf('resonant square'), 0, 1);
  let start: Patch;
  beforeAll(async () => {
    start = await matchedPatch(audio, { renders: 40, structure: 'plain' });
  });

  it('is the same for the same seed and number of renders, however many threads share the work', async () => {
    const helpers = [1, 2].map((): Helper => {
      const { begin, hold, calibrate, distances } = createHelper();
      // As between threads: nothing is shared, and answers come later.
      const later = <T>(value: T) => new Promise<T>((resolve) => setImmediate(resolve, structuredClone(value)));
      return {
        begin: (cuts) => later(begin(structuredClone(cuts))),
        hold: (holdings) => later(hold(structuredClone(holdings))),
        calibrate: (patch, rate) => later(calibrate(structuredClone(patch), rate)),
        distances: (patches, rate) => later(distances(structuredClone(patches), rate)),
      };
    });
    const run = (own: Helper[]) => matchedPatch(audio, { renders: 30, structure: 'mixed', seed: 3, helpers: own });
    expect(await run([])).toEqual(await run(helpers));
  });

  it('leaves what is locked, and turns only what it is told to', async () => {
    const fromPatch = structuredClone(start);
    layerOf(fromPatch).amp.attackSeconds = 0.3;
    const { cutoffHz } = lowPassOf(start);
    lowPassOf(fromPatch).cutoffHz = 3 * cutoffHz;
    const only = await matchedPatch(audio, { renders: 60, fromPatch, only: ['filter'] });
    expect(layerOf(only).amp).toEqual(layerOf(fromPatch).amp);
    expect(lowPassOf(only).cutoffHz).not.toBe(3 * cutoffHz);
    const locks = ['filter-1.cutoffHz', 'level'];
    const locked = await matchedPatch(audio, { renders: 60, fromPatch, locks });
    expect(lowPassOf(locked).cutoffHz).toBe(3 * cutoffHz);
    expect(layerOf(locked).amp).toEqual(layerOf(fromPatch).amp);
  });

  it('gives back its best when it is cancelled, and says how far it is', async () => {
    const states: MatchState[] = [];
    const matched = await matchTone(audio, {
      renders: 400,
      structure: 'plain',
      onProgress: (state) => {
        states.push(state);
        return states.length > 3;
      },
    });
    expect(matched.isCancelled).toBe(true);
    expect(matched.renders).toBeLessThan(200);
    expect(matched.candidates).toHaveLength(1);
    expect(states.every(({ fraction }) => fraction >= 0 && fraction <= 1)).toBe(true);
    expect(states.at(-1)!.overallJnd).toBeGreaterThan(0);
  });

  thorough.it('tells key tracking from two cuts at different keys', async () => {
    const fromPatch = structuredClone(start);
    lowPassOf(fromPatch).keyTracking = 100;
    const [low, high] = [45, 57].map((midi): Audio => {
      const notes = [{ onsetSeconds: 0.05, durationSeconds: 0.6, midi, velocity: 100 }];
      const channels = renderPatch({ patch: fromPatch, notes, sampleRateHz: RATE_HZ, seconds: 0.9 });
      return { channels, sampleRateHz: RATE_HZ };
    });
    lowPassOf(fromPatch).keyTracking = 0;
    const tracked = await matchedPatch(low, { renders: 100, fromPatch, only: ['filter'], others: [{ audio: high }] });
    expect(lowPassOf(tracked).keyTracking).toBeGreaterThan(50);
  });
});

thorough.it('is not led astray by what hits took away, where it knows of them', async () => {
  const alone = sliceAudio(toneOf('three saws behind a low-pass'), 0, 0.9);
  const { notes, ...reading } = readTone(alone);
  const random = createRandom(9);
  const [channel] = alone.channels;
  const together = channel.map((x, i) => x + 0.25 * (random() - 0.5) * Math.exp(-((i / RATE_HZ) % 0.25) / 0.03));
  const isolation = { ...NO_ISOLATION, partialsOnly: true };
  const { audio, surroundings } = isolatedTone({ channels: [together], sampleRateHz: RATE_HZ }, isolation, notes);
  const options: MatchOptions = { renders: 30, structure: 'plain' };
  const judge = createJudge(
    [{ audio: alone, reading: { ...reading, notes }, notes: phraseOf({ notes }), seed: 1 }],
    'full',
  );
  const astray = await judge.distance(await matchedPatch(audio, options));
  const found = await judge.distance(await matchedPatch(audio, { ...options, surroundings }));
  expect(found).toBeLessThan(0.5 * astray);
});

thorough.it('keeps what was set by hand, whatever would be nearer', async () => {
  const byHand = { attackSeconds: 0.2, cutoffHz: 900, resonanceDb: 9 };
  const { amp, filters } = layerOf(
    await matchedPatch(toneOf('resonant square'), { renders: 60, structure: 'plain', overrules: byHand }),
  );
  expect(amp.attackSeconds).toBe(0.2);
  expect(filters[0]).toMatchObject({ on: true, resonanceDb: 9 });
});

thorough.describe('Of one structure only', () => {
  const only = (structure: 'copy' | 'mixed', name: MadeName) => matchTone(toneOf(name), { renders: 60, structure });

  it.each(['copy', 'mixed'] as const)(
    'there is a %s patch, and it is the one that is recommended',
    async (structure) => {
      const { candidates } = await only(structure, 'resonant square');
      expect(candidates.map(({ kind }) => kind)).toEqual([structure]);
    },
  );

  it('it says so where it cannot be made', async () => {
    await expect(only('mixed', 'saw ringed low')).rejects.toThrow(/ask for plain or copy/);
  });
});

it.each([
  ['silence', () => 0],
  ['noise', createRandom(5)],
])('says what is missing in %s', async (_, sampleAt) => {
  const channel = Float32Array.from({ length: RATE_HZ }, (_unused, i) => 0.3 * (sampleAt as (i: number) => number)(i));
  const audio = { channels: [channel], sampleRateHz: RATE_HZ };
  await expect(matchTone(audio, { renders: 20 })).rejects.toThrow(/No pitch/);
});
