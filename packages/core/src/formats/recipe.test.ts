import { lfo, route } from '../../test/patches';
import { emptyPatch } from '../patch/defaults';
import { addEffect, addGroup, addSharedRoute } from '../patch/edits/chains';
import { addInteraction, addSource, changeFilterKind } from '../patch/edits/edit';
import { macroSchema } from '../patch/schema';
import { writeRecipe } from './recipe';

function recipe() {
  let patch = emptyPatch('Fog horn');
  patch.bpm = 96;
  let [layer] = patch.layers;
  [layer] = addSource(layer, 'noise', { into: 'past', slopeDbPerOctave: -3 });
  [layer] = addSource(layer, 'shape', {
    shape: 'sine',
    tuning: 'ratio',
    ratio: 2.01,
    phaseShape: 'crowded',
    phaseAmount: 40,
  });
  [layer] = addInteraction(layer, 'fm', 'source-1', 'source-3');
  layer = changeFilterKind(layer, 'filter-2', 'comb');
  layer = {
    ...layer,
    shaper: { ...layer.shaper, on: true, curve: 'tube' },
    voice: {
      ...layer.voice,
      mode: 'legato',
      glide: 'overlap',
      glideSeconds: 0.036,
      glideInSemitones: -5,
      glideInSeconds: 0.03,
    },
    levelDb: -6,
    semitones: -12,
    modulators: [...layer.modulators, lfo('lfo-1', { division: '1/8.' })],
  };
  layer.routes.push(
    route('lfo-1', 'source-1', 'semitones', 0.5, { polarity: 'bipolar' }),
    route('storm', 'filter-1', 'resonanceDb', 12),
  );
  patch = { ...patch, layers: [layer], macros: [macroSchema.parse({ id: 'storm', name: 'Storm' })] };
  [patch] = addEffect(patch, { of: 'layer', id: layer.id }, 'reverb');
  [patch] = addEffect(patch, { of: 'patch' }, 'equalizer');
  const [grouped, id] = addGroup(patch, layer.id);
  const [ducked, effectId] = addEffect(grouped, { of: 'group', id }, 'ducker');
  [patch] = addSharedRoute(ducked, 'storm', { moduleId: effectId, parameter: 'depthDb' }, 12);
  return writeRecipe(patch, []);
}

const notes = [
  { onsetSeconds: 0.25, durationSeconds: 0.5, midi: 45, velocity: 100 },
  { onsetSeconds: 0.75, durationSeconds: 1.25, midi: 45, velocity: 64 },
  { onsetSeconds: 1, durationSeconds: 0.1, midi: 60, velocity: 1 },
];

describe('A recipe names, in real units', () => {
  const text = recipe();
  it.each([
    ['the tempo', 'Tempo 96 BPM'],
    ['where sources go', 'Noise: into past the filters'],
    ['how they are tuned', 'tuned by ratio to the note'],
    ['how their phase is shaped', 'time within the period: one half crowded'],
    ['what modulates what', 'FM, sine into saw: fm index 1'],
    ['the shaper', 'Shaper, tube: drive 12 dB'],
    ['the second filter', 'Comb'],
    ['the glide', 'One voice, legato, glide of 36 ms, only where notes overlap'],
    ['how notes come in', 'notes glide in from −5 st over 30 ms'],
    ['the place of the layer', 'level −6 dB, layer pitch −12 st'],
    ['what times end at', 'decay 300 ms to 5 % left'],
    ['synced movement', 'lfo-1, LFO, sine at 1/8. of the tempo'],
    ['amounts in the target’s unit, with their polarity', 'saw, semitones (bipolar: +0.5 st either way)'],
    ['effects', 'Reverb: rt60 1.8 s'],
    ['the chain of a group', '## Group 1: '],
    ['a macro on a group’s effect', 'Storm moves depth, unipolar'],
    ['bands of an equaliser', 'Equaliser: low shelf at 80 Hz 0 dB Q 0.71, bell at 1.2 kHz'],
    ['macros', 'Storm, macro, moving low-pass, resonance (unipolar: from 0 to +12 dB)'],
  ])('%s', (_what, expected) => expect(text).toContain(expected));

  it.each([
    ['a source', /Noise: .*\n {3}Listen: a soft rush\./],
    ['a source that moves another', /FM, sine into saw: .*\n {3}Listen: overtones come in/],
    ['a filter', /Low-pass, 24 dB per octave: .*\n {3}Listen: darker/],
    ['the level', /Amp contour: .*\n {3}Listen: the note starts at once and/],
    ['an effect', /Reverb: .*\n {3}Listen: a room around the tone/],
    ['a movement', /lfo-1, LFO, .*\n {3}Listen: the pitch goes up and down\./],
  ])('what is to be heard of %s once it is there', (_what, expected) => expect(text).toMatch(expected));

  it('that a filter makes up what it takes, while it does', () => {
    const patch = emptyPatch();
    const [layer] = patch.layers;
    patch.layers = [changeFilterKind(layer, layer.filters[0].id, 'bandpass')];
    expect(writeRecipe(patch, [])).toMatch(/Band-pass, \d+ dB per octave: .*, makes up its level/);
    Object.assign(patch.layers[0].filters[0], { makeUp: false });
    expect(writeRecipe(patch, [])).not.toContain('makes up');
  });

  it('and leaves out what is off and what does nothing', () => {
    const patch = emptyPatch();
    patch.layers[0].filters[0].on = false;
    expect(writeRecipe(patch, [])).not.toContain('Low-pass');
    expect(writeRecipe(patch, [])).not.toContain('Filter contour');
  });
});

it('a recipe names every step in real units', () => {
  const patch = emptyPatch('Lamp');
  patch.layers[0].routes[0].amount = 24;
  Object.assign(patch.layers[0].filters[0], { cutoffHz: 350 });
  const text = writeRecipe(patch, notes);
  expect(text).toContain('# Lamp');
  expect(text).toContain('cutoff at rest 350 Hz');
  expect(text).toContain('moving low-pass, cutoff at rest (unipolar: from 0 to +24 st)');
  expect(text).toContain('A2 at 250 ms for 500 ms, velocity 100');
});
