import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import type { ShelvedChain } from '@imprint/contract/api';
import { chainOf } from '@imprint/core/patch/edits/chains';
import { effectSchema } from '@imprint/core/patch/schemas/effectSchema';
import { addInteraction, addLayer, addModulator, addSource, changeFilterKind } from '@imprint/core/patch/edits/edit';
import { emptyPatch } from '@imprint/core/patch/defaults';
import { sampleFromChannels } from '@imprint/core/patch/contents/samplePcm';
import { type EffectKind, type Layer, type Source, macroSchema } from '@imprint/core/patch/schema';
import { shaperCurves } from '@imprint/core/parameters/shapes';
import { filterKinds } from '../../../../core/src/patch/schemas/shapingSchema';
import { phaseShapes } from '@imprint/core/patch/schemas/sourceSchema';
import { builtInTables } from '@imprint/core/patch/contents/builtInTables';
import { parsePatch } from '@imprint/core/patch/parse';
import { effectTitles } from '@imprint/core/patch/words/effects';
import { filterTitles } from '@imprint/core/patch/words/words';
import { currentPatch, openPatch, readingOfSaw } from '../../../test/page';
import { client } from '../../api/client';
import type { Deck } from '../../audio/deck';
import { useAudition } from '../../stores/auditionStore';
import { useSettings } from '../../app/settings';
import { undo, usePatchStore } from '../../stores/patchStore';
import { useTransport } from '../../stores/transportStore';
import { Lanes } from './Lanes';
import { LayerStrip } from './strip/LayerStrip';
import { ModuleEditor } from './editor/ModuleEditor';
import { VOICE, chosenLayer, useSelection } from '../../stores/selectionStore';
import { useBuildKeys } from './useBuildKeys';
import { some, thorough } from '../../../../core/test/thorough';

const queries = new QueryClient();
const plainTable = { ...builtInTables[0].make(), id: 'table-1' };

function Screen() {
  const patch = usePatchStore((state) => state.patch)!;
  const layerId = useSelection((selection) => selection.layerId);
  const layer = chosenLayer(patch, layerId);
  useBuildKeys(layer, patch);
  return (
    <QueryClientProvider client={queries}>
      <LayerStrip layer={layer} patch={patch} />
      <ModuleEditor layer={layer} reading={readingOfSaw} />
    </QueryClientProvider>
  );
}

/**
 * The screen with one layer changed and one of its elements chosen. Whatever is done, the patch must still
 * play.
 */
function build(change: (layer: Layer) => Layer = (layer) => layer, moduleId = 'source-1') {
  const patch = emptyPatch();
  openPatch({
    ...patch,
    layers: [change(patch.layers[0])],
    wavetables: [plainTable],
    samples: [sampleFromChannels('sample-1', 'Cup', 44100, [new Float32Array(400)])],
    macros: [macroSchema.parse({ id: 'macro-1', name: 'Storm' })],
  });
  useSelection.setState({ layerId: '', moduleId });
  render(<Screen />);
}

const layer = () => currentPatch().layers[0];
const choose = (label: string | RegExp, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });
const rulers = () => screen.getAllByRole('slider').map((slider) => slider.getAttribute('aria-label'));

afterEach(() => expect(parsePatch(currentPatch())).toEqual(currentPatch()));

describe('Every element has an editor', () => {
  it.each([
    ['shape', {}, 'Saw', 'Semitones'],
    ['wavetable', { wavetableId: 'table-1' }, 'Plain shapes', 'Table position'],
    ['partials', {}, 'Partials', 'Levels of the partials'],
    ['noise', {}, 'Noise', 'Colour, white to brown'],
    ['sample', { sampleId: 'sample-1' }, 'Cup', 'Root note'],
  ] as const)('a %s source', (kind, fields, title, ruler) => {
    build((old) => addSource({ ...old, sources: [] }, kind, fields)[0]);
    expect(screen.getByRole('region', { name: title })).toBeTruthy();
    expect(rulers()).toContain(ruler);
  });

  some(3).it.each(filterKinds)('the %s filter', (kind) => {
    build((old) => changeFilterKind(old, 'filter-1', kind), 'filter-1');
    expect(screen.getByRole('region', { name: new RegExp(`^${filterTitles[kind]}( 1)?$`) })).toBeTruthy();
    expect(rulers()).toContain('Wet');
  });

  some(2).it.each(shaperCurves)('the shaper with its %s curve', (curve) => {
    build((old) => ({ ...old, shaper: { ...old.shaper, curve } }), 'shaper');
    expect(rulers()).toContain('Even partials');
    expect(screen.queryAllByRole('figure')).toHaveLength(curve === 'drawn' ? 1 : 0);
  });

  some(2).it.each(['envelope', 'lfo', 'velocity', 'counter', 'unison'] as const)('the modulator %s', (what) => {
    build((old) => addModulator(old, what)[0], what === 'envelope' || what === 'lfo' ? `${what}-1` : 'value-1');
    expect(screen.getByLabelText('Add a route')).toBeTruthy();
  });

  it.each([
    ['amp', 'Amp contour', 'Attack'],
    [VOICE, 'Notes', 'Bend range'],
    ['layer-1', 'Layer 1', 'Layer level'],
    ['macro-1', 'Storm', 'Value'],
  ])('%s', (id, title, ruler) => {
    build(undefined, id);
    expect(screen.getByRole('region', { name: title })).toBeTruthy();
    expect(rulers()).toContain(ruler);
  });

  it.each(['fm', 'ring', 'ringTone'] as const)('%s between sources', (kind) => {
    build(
      (old) => {
        const [two] = addSource(old, 'shape', { shape: 'sine' });
        return addInteraction(two, kind, 'source-1', 'source-2')[0];
      },
      kind === 'fm' ? 'fm-1' : 'ring-1',
    );
    expect(rulers()).toContain(kind === 'fm' ? 'FM index' : 'Ring modulation');
  });
});

describe('Chains', () => {
  const ofLayer = { of: 'layer', id: 'layer-1' } as const;
  const shared = () => currentPatch().effects;

  some(4).it.each(Object.keys(effectTitles) as EffectKind[])(
    '%s has an editor in a layer and for all layers',
    (kind) => {
      build();
      for (const menu of ['Add an effect', 'Add an effect to all layers']) {
        choose(menu, kind);
        expect(screen.getByRole('region', { name: effectTitles[kind] })).toBeTruthy();
        expect(rulers()).toContain('Wet');
      }
      expect([layer().effects[0].kind, shared()[0].kind]).toEqual([kind, kind]);
    },
  );

  thorough.it('bands of an equaliser are moved on its response', () => {
    build();
    choose('Add an effect', 'equalizer');
    const bell = screen.getByRole('button', { name: /^Band 5, bell at 1.2 kHz/ });
    fireEvent.keyDown(bell, { key: 'ArrowUp' });
    fireEvent.keyDown(bell, { key: 'ArrowRight' });
    const [{ band5Db, band5Hz }] = layer().effects as unknown as Record<string, number>[];
    expect(band5Db).toBeCloseTo(0.96, 0);
    expect(band5Hz).toBeCloseTo(1200 * 2 ** (0.02 * Math.log2(1000)), 0);
    choose('Band 5', 'notch');
    fireEvent.keyDown(screen.getByRole('button', { name: /^Band 5, notch/ }), { key: 'ArrowUp' });
    expect(layer().effects[0]).toMatchObject({ band5Db });
  });

  describe('The shelf of chains', () => {
    const own = {
      id: '11111111-1111-4111-8111-111111111111',
      createdAt: '2026-11-26T00:00:00Z',
      name: 'Wet stone',
      purpose: 'for the cellar',
      effects: [effectSchema.parse({ kind: 'reverb', id: 'effect-9', rt60Seconds: 0.9 })],
    };
    let shelf: ShelvedChain[];
    // Everything is folded out, so that whatever is shown can be found.
    const allOpen: Record<string, boolean> = new Proxy({}, { get: () => true });
    beforeEach(() => useSettings.setState({ folds: allOpen }));

    beforeEach(() => {
      shelf = [own];
      queries.clear();
      jest.spyOn(client, 'shelvedChains').mockImplementation(() => Promise.resolve(shelf));
      jest.spyOn(client, 'deleteShelvedChain').mockImplementation(() => Promise.resolve(void (shelf = [])));
      jest.spyOn(client, 'shelveChain').mockImplementation((chain) => {
        shelf = [...shelf, { ...own, ...(chain as ShelvedChain) }];
        return Promise.resolve(shelf[0]);
      });
    });
    afterEach(() => jest.restoreAllMocks());
    const open = () => fireEvent.click(screen.getByLabelText('Shelf of chains, for the layer'));

    it('adds one that comes with the program, whose first effect is chosen', () => {
      build();
      open();
      fireEvent.click(screen.getByRole('button', { name: /^Glue the partials/ }));
      expect(layer().effects.map(({ kind }) => kind)).toEqual(['compressor', 'drive']);
      expect(screen.getByRole('region', { name: 'Compressor' })).toBeTruthy();
      act(undo);
      expect(layer().effects).toEqual([]);
    });

    thorough.it('adds one of one’s own, with ids of this patch', async () => {
      build();
      choose('Add an effect', 'delay');
      open();
      fireEvent.click(await screen.findByRole('button', { name: /^Wet stone/ }));
      expect(layer().effects).toMatchObject([{ kind: 'delay' }, { kind: 'reverb', id: 'effect-2', rt60Seconds: 0.9 }]);
    });

    thorough.it('takes the chain as it is, but for what only its patch has', async () => {
      build((old) => ({
        ...old,
        effects: [effectSchema.parse({ kind: 'vocoder', id: 'effect-1', bands: 24, sampleId: 'sample-1' })],
      }));
      open();
      await screen.findByText('Wet stone');
      expect(screen.getByText(/^Vocoder\. The layers that it listens to/)).toBeTruthy();
      const put = screen.getByRole('button', { name: 'Put it on the shelf' });
      expect(put.hasAttribute('disabled')).toBe(true);
      fireEvent.change(screen.getByLabelText('Name of the chain'), { target: { value: ' Speaking cup ' } });
      fireEvent.click(put);
      expect(await screen.findByText('Speaking cup')).toBeTruthy();
      expect(shelf[1]).toMatchObject({ name: 'Speaking cup', effects: [{ bands: 24, sampleId: null }] });
    });

    thorough.it('forgets one', async () => {
      build();
      choose('Add an effect', 'delay');
      open();
      fireEvent.click(await screen.findByLabelText('Take Wet stone off the shelf'));
      expect(await screen.findByText('None yet.')).toBeTruthy();
      expect(client.deleteShelvedChain).toHaveBeenCalledWith(own.id);
    });
  });

  it('a macro is led to an effect of all layers, and away again', () => {
    build();
    choose('Add an effect to all layers', 'reverb');
    choose('Move Wet', 'old:macro-1');
    expect(screen.getByText('Reverb, wet')).toBeTruthy();
    expect(currentPatch().routes).toMatchObject([{ from: 'macro-1', to: { parameter: 'mix' } }]);
    choose('Polarity of the route to Reverb, wet', 'bipolar');
    expect(currentPatch().routes[0].polarity).toBe('bipolar');
    fireEvent.click(screen.getByLabelText('Delete the route to Reverb, wet'));
    expect(currentPatch().routes).toEqual([]);
  });

  thorough.it('layers are put into a group with a chain of its own', () => {
    build();
    expect(screen.queryByLabelText('Group of the layer')).toBeNull();
    act(() => usePatchStore.getState().edit((patch) => addLayer(patch)[0]));
    choose('Group of the layer', 'new');
    choose('Name of the group', 'Lamp and stairs');
    expect(currentPatch().groups[0].name).toBe('Lamp and stairs');
    choose('Add an effect to the group', 'ducker');
    expect(currentPatch().groups[0].effects[0].kind).toBe('ducker');
    fireEvent.click(screen.getByLabelText('Sixteenth 3'));
    expect(currentPatch().groups[0].effects[0]).toMatchObject({ pattern: expect.arrayContaining([true]) });
    choose('Group of the layer', '');
    expect(currentPatch().groups).toEqual([]);
  });

  thorough.it('keys reach effects of any chain: off, moved, copied, gone', () => {
    build();
    choose('Add an effect to all layers', 'reverb');
    choose('Add an effect to all layers', 'delay');
    const press = (key: string, other: object = {}) => fireEvent.keyDown(document.body, { key, code: key, ...other });
    press('ArrowUp', { altKey: true });
    expect(shared().map(({ kind }) => kind)).toEqual(['delay', 'reverb']);
    press('Delete');
    expect(shared().map(({ kind }) => kind)).toEqual(['reverb']);
    expect(chainOf(currentPatch(), ofLayer)).toEqual([]);
  });

  thorough.it('one click matches the levels that were measured', () => {
    const levels = { powerIn: 0.01, powerOut: 0.04, peakOut: 1.2, reductionDb: 3 };
    useTransport.setState({ deck: { levelsOf: () => levels } as unknown as Deck });
    jest.useFakeTimers();
    build();
    choose('Add an effect', 'equalizer');
    act(() => jest.advanceTimersByTime(400));
    expect(within(screen.getByRole('group', { name: 'Levels' })).getByText('over full scale')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Match levels' }));
    expect(layer().effects[0]).toMatchObject({ outputDb: -6 });
    jest.useRealTimers();
    useTransport.setState({ deck: null });
  });
});

describe('Rulers that do nothing are not shown', () => {
  it('detune needs two voices', () => {
    build();
    expect(rulers()).not.toContain('Detune, total spread');
    const slider = screen.getByRole('slider', { name: 'Unison voices' });
    fireEvent.keyDown(slider, { key: 'ArrowRight' });
    expect(rulers()).toContain('Detune, total spread');
    // Voices that only add up are seldom meant.
    fireEvent.click(screen.getByRole('button', { name: 'Detune them by 12 ct' }));
    expect(screen.getByRole('slider', { name: 'Detune, total spread' }).getAttribute('aria-valuenow')).toBe('12');
    expect(screen.queryByRole('button', { name: /^Detune them/ })).toBeNull();
  });

  some(3).it.each(phaseShapes)('the phase shape %s shows its own', (phaseShape) => {
    build();
    choose('Phase', phaseShape);
    const shown = rulers();
    expect(shown.includes('Sync, above the note')).toBe(phaseShape === 'hardSync' || phaseShape === 'hardSyncFaded');
    expect(shown.includes('Steps of the period')).toBe(phaseShape === 'stairs');
    expect(shown.includes('Phase shaping')).toBe(
      ['crowded', 'leaning', 'thereAndBack', 'stairs', 'drawnTime'].includes(phaseShape),
    );
  });

  it('a ratio or a fixed pitch takes the place of the octave', () => {
    build();
    choose('Tuned by', 'ratio');
    expect(rulers()).toContain('Ratio to the note');
    choose('Tuned by', 'fixed');
    expect(rulers()).toContain('Fixed pitch');
    expect(rulers()).not.toContain('Octave');
  });
});

describe('Movement', () => {
  it('a parameter can be given a new LFO, which is then chosen', () => {
    build();
    choose('Move Semitones', 'new:lfo');
    expect(layer().modulators.at(-1)!.kind).toBe('lfo');
    expect(layer().routes.at(-1)).toMatchObject({ polarity: 'bipolar', amount: 7 });
    expect(screen.getByRole('slider', { name: 'Saw, semitones' })).toBeTruthy();
  });

  it('what opens a source shuts it first: a gate of its own', () => {
    build();
    choose('Move Let through', 'new:envelope');
    expect(layer().sources[0].letThrough).toBe(0);
    expect(layer().routes.at(-1)).toMatchObject({ amount: 100, polarity: 'unipolar' });
  });

  it('a macro can move what it is told to', () => {
    build();
    choose('Move Level', 'old:macro-1');
    expect(layer().routes.at(-1)).toMatchObject({ from: 'macro-1', amount: -6 });
    expect(screen.getByRole('region', { name: 'Storm' })).toBeTruthy();
  });

  it('the range that a route sweeps stands on the ruler, in words', () => {
    build();
    choose('Move Semitones', 'new:envelope');
    act(() => useSelection.setState({ moduleId: 'source-1' }));
    expect(screen.getByText('unipolar +7 st')).toBeTruthy();
  });

  thorough.it('a route is switched, turned both ways and deleted', () => {
    build((old) => addModulator(old, 'lfo')[0], 'lfo-1');
    choose('Add a route', 'source-1 levelDb');
    choose('Polarity of the route to Saw, level', 'unipolar');
    fireEvent.click(screen.getByLabelText('Route to Saw, level on'));
    expect(layer().routes.at(-1)).toMatchObject({ polarity: 'unipolar', on: false });
    fireEvent.click(screen.getByLabelText('Delete the route to Saw, level'));
    expect(layer().routes.some(({ from }) => from === 'lfo-1')).toBe(false);
  });

  it('warns of a pitch that is put out of tune', () => {
    build((old) => addModulator(old, 'lfo')[0], 'lfo-1');
    choose('Add a route', 'source-1 semitones');
    expect(screen.queryByRole('alert')).toBeNull();
    choose('Polarity of the route to Saw, semitones', 'unipolar');
    expect(screen.getByRole('alert').textContent).toContain('+350 ct out of tune');
  });

  thorough.it('an LFO is synced, drawn and set to run once', () => {
    build((old) => addModulator(old, 'lfo')[0], 'lfo-1');
    choose('Rate by', '1/8.');
    expect(rulers()).not.toContain('Rate');
    choose('Runs', 'oneShot');
    choose('Starts', 'free');
    choose('Shape', 'drawn');
    fireEvent.keyDown(screen.getByRole('button', { name: /^Point 2/ }), { key: 'ArrowDown' });
    expect(layer().modulators.at(-1)).toMatchObject({
      division: '1/8.',
      run: 'oneShot',
      restart: 'free',
      shape: 'drawn',
    });
  });

  thorough.it('exaggerates while the button is held', () => {
    build((old) => addModulator(old, 'lfo')[0], 'lfo-1');
    choose('Add a route', 'source-1 semitones');
    const button = screen.getByRole('button', { name: /exaggerate/ });
    fireEvent.pointerDown(button);
    expect(useAudition.getState().exaggerated).toEqual({ layerId: 'layer-1', id: layer().routes.at(-1)!.id });
    fireEvent.pointerUp(button);
    expect(useAudition.getState().exaggerated).toBeNull();
  });
});

describe('The strip', () => {
  const strip = () => within(screen.getByRole('navigation', { name: 'Layer' }));

  some(2).it.each(['sine', 'noise', 'partials', 'wavetable'])('adds a source: %s', (choice) => {
    build();
    choose('Add a source', choice);
    expect(layer().sources).toHaveLength(2);
    expect(layer().sources[1].levelDb).toBe(-12);
    act(undo);
    expect(layer().sources).toHaveLength(1);
  });

  it('adds modulators and macros', () => {
    build();
    choose('Add a modulator', 'random');
    fireEvent.click(screen.getByLabelText('Add a macro'));
    expect(layer().modulators.at(-1)).toMatchObject({ kind: 'note', of: 'random' });
    expect(currentPatch().macros).toHaveLength(2);
  });

  it('switches elements, and all routes of a modulator', () => {
    build();
    fireEvent.click(strip().getByLabelText('Saw on'));
    fireEvent.click(strip().getByLabelText('Shaper on'));
    fireEvent.click(strip().getByLabelText('Filter contour on'));
    expect([layer().sources[0].on, layer().shaper.on, layer().routes[0].on]).toEqual([false, true, false]);
  });

  it('lets one element sound alone, and everything again', () => {
    build();
    fireEvent.click(strip().getByLabelText('Saw alone'));
    expect(useAudition.getState().solo).toEqual({ layerId: 'layer-1', moduleId: 'source-1' });
    fireEvent.click(strip().getByLabelText('Saw alone'));
    expect(useAudition.getState().solo).toBeNull();
  });

  thorough.it('copies a layer, goes to it, and deletes it', () => {
    build(undefined, 'layer-1');
    fireEvent.click(screen.getByRole('button', { name: 'Copy to a new layer' }));
    expect(currentPatch().layers.map(({ name }) => name)).toEqual(['Layer 1', 'Layer 1, copy']);
    expect(useSelection.getState().layerId).toBe('layer-2');
    fireEvent.click(screen.getByRole('button', { name: 'Delete' }));
    expect(currentPatch().layers).toHaveLength(1);
  });

  it('says when a layer has no source', () => {
    build((old) => ({ ...old, sources: [], routes: [] }), 'filter-1');
    expect(screen.getByText(/Silent: there is no source/)).toBeTruthy();
  });
});

describe('Tables and partials', () => {
  it('a built-in table takes the place of another, which then goes', async () => {
    build((old) => addSource({ ...old, sources: [] }, 'wavetable', { wavetableId: 'table-1' })[0]);
    choose('Wavetable', 'builtIn:vowels');
    await waitFor(() => expect(currentPatch().wavetables.map(({ name }) => name)).toEqual(['Sweeping vowels']));
  });

  thorough.it('frames are copied, drawn and deleted', () => {
    build((old) => addSource({ ...old, sources: [] }, 'wavetable', { wavetableId: 'table-1' })[0]);
    const frames = () => currentPatch().wavetables[0].frameCount;
    fireEvent.click(screen.getByRole('button', { name: 'Copy frame' }));
    expect(frames()).toBe(33);
    fireEvent.click(screen.getByRole('button', { name: 'Delete frame' }));
    expect(frames()).toBe(32);
    const before = currentPatch().wavetables[0].framesBase64;
    fireEvent.keyDown(screen.getByRole('slider', { name: /^Frame \d+ of/ }), { key: 'ArrowUp' });
    expect(currentPatch().wavetables[0].framesBase64).not.toBe(before);
  });

  thorough.it('partials are tilted, made hollow and taken over from the reference', () => {
    build((old) => addSource({ ...old, sources: [] }, 'partials', { levelsDb: [-10, -10, -10, -10] })[0]);
    const levels = () => (layer().sources[0] as { levelsDb: number[] }).levelsDb;
    fireEvent.click(screen.getByRole('button', { name: 'darker' }));
    expect(levels().map((db) => Math.round(10 * db) / 10)).toEqual([-10, -11.5, -12.4, -13]);
    fireEvent.click(screen.getByRole('button', { name: 'more hollow' }));
    expect(levels()[1]).toBeCloseTo(-13);
    fireEvent.click(screen.getByRole('button', { name: 'as measured' }));
    // The reference is a saw: partial 2 is 6 dB under partial 1.
    expect(levels()[1] - levels()[0]).toBeCloseTo(-6, 0);
  });
});

describe('The waveform of a sample', () => {
  const handle = (name: RegExp) => screen.getByRole('button', { name });

  thorough.it('sets where it starts and loops, within its length', () => {
    build(
      (old) =>
        addSource({ ...old, sources: [] }, 'sample', { sampleId: 'sample-1', loop: true, loopEndSeconds: 0.0089 })[0],
    );
    const source = () => layer().sources[0] as Extract<Source, { kind: 'sample' }>;
    const seconds = 400 / 44100;
    fireEvent.keyDown(handle(/^Start 0 ms/), { key: 'ArrowRight' });
    expect(source().startSeconds).toBeCloseTo(0.02 * seconds, 9);
    fireEvent.keyDown(handle(/^Loop from 0 ms/), { key: 'ArrowLeft' });
    expect(source().loopStartSeconds).toBe(0);
    for (let i = 0; i < 2; i++) fireEvent.keyDown(handle(/^Loop to/), { key: 'ArrowRight' });
    expect(source().loopEndSeconds).toBeCloseTo(seconds, 9);
    fireEvent.click(screen.getByLabelText('loop'));
    expect(screen.queryByRole('button', { name: /^Loop from/ })).toBeNull();
  });
});

describe('The lanes', () => {
  function lanes(change: (old: Layer) => Layer, moduleId: string) {
    openPatch({ ...emptyPatch(), layers: [change(emptyPatch().layers[0])] });
    useSelection.setState({ layerId: '', moduleId });
    render(<Lanes layer={layer()} reading={readingOfSaw} />);
    return screen.getByRole('region', { name: 'Lanes' });
  }

  it('show level, brightness and pitch, and in words what moves them', () => {
    const shown = lanes((old) => ({ ...old, routes: [{ ...old.routes[0], amount: 24 }] }), 'filter-1');
    for (const title of ['Level', 'Brightness', 'Pitch']) expect(within(shown).getByText(title)).toBeTruthy();
    expect(within(shown).getByText('low-pass, cutoff at rest +24 st')).toBeTruthy();
    expect(within(shown).getByText('120 BPM')).toBeTruthy();
  });

  it('show the chosen modulator in the place of the pitch', () => {
    const shown = lanes((old) => addModulator(old, 'lfo')[0], 'lfo-1');
    expect(within(shown).getByText('LFO 1')).toBeTruthy();
    expect(within(shown).getByText('moves nothing yet')).toBeTruthy();
  });
});
