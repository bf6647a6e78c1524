import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import type { Cut, Proof, Study } from '@imprint/contract/api';
import { builtInTables } from '@imprint/core/patch/contents/builtInTables';
import { emptyPatch } from '@imprint/core/patch/defaults';
import { parsePatch } from '@imprint/core/patch/parse';
import { readMidiFile } from '@imprint/core/formats/midi';
import { readWav } from '@imprint/core/formats/wav';
import { openPatch, readingOfSaw } from '../../../test/page';
import { client } from '../../api/client';
import { packed } from '../../keeping/contents';
import { usePatchStore } from '../../stores/patchStore';
import { closed, useStudyStore } from '../../stores/studyStore';
import { FinishScreen } from './FinishScreen';

const saved = jest.fn<undefined, [string, Uint8Array | string, string]>();
jest.mock('../../app/download', () => ({
  ...jest.requireActual<object>('../../app/download'),
  download: (...all: [string, Uint8Array | string, string]) => saved(...all),
}));

const cut = {
  id: 'cut-1',
  name: 'Lone note',
  notes: null,
  overrules: {},
  fromSeconds: 0,
  toSeconds: 0.7,
} as unknown as Cut;
const kept = {
  id: 'proof-1',
  name: 'Nearly there',
  cutId: cut.id,
  createdAt: '2026-11-26T10:00:00Z',
  comparison: { overallJnd: 1.26, traits: [] },
  byteLength: 10,
} as unknown as Proof;

function finish(proofs: Proof[] = []) {
  openPatch({ ...emptyPatch(), wavetables: [{ ...builtInTables[0].make(), id: 'table-1' }] });
  useStudyStore.setState({
    ...closed,
    status: 'ready',
    study: { id: 'study-1', title: 'Lamp, lit & low' } as Study,
    cuts: [cut],
    cutId: cut.id,
    readings: { [cut.id]: readingOfSaw },
    proofs,
  });
  render(
    <QueryClientProvider client={new QueryClient()}>
      <FinishScreen />
    </QueryClientProvider>,
  );
}
const take = (title: string) => fireEvent.click(screen.getByRole('button', { name: `Export: ${title}` }));

beforeEach(() => saved.mockClear());
afterEach(() => jest.restoreAllMocks());

describe('Files that are taken away', () => {
  beforeEach(() => finish());

  it('the patch, as the JSON that opens again', () => {
    take('Patch as JSON');
    const [name, text, type] = saved.mock.calls[0];
    expect([name, type]).toEqual(['lamp-lit-low.patch.json', 'application/json']);
    expect(parsePatch(JSON.parse(text as string))).toEqual(usePatchStore.getState().patch);
  });

  it('the schema that it follows', () => {
    fireEvent.click(screen.getByRole('button', { name: 'Its JSON Schema' }));
    expect(JSON.parse(saved.mock.calls[0][1] as string)).toHaveProperty('properties.layers');
  });

  it('a wavetable, frame after frame', () => {
    take('Wavetable as WAV');
    const [name, bytes] = saved.mock.calls[0];
    const { frameCount } = usePatchStore.getState().patch!.wavetables[0];
    expect(name).toBe('lamp-lit-low-table-1.wav');
    expect(readWav(bytes as Uint8Array).channels[0]).toHaveLength(2048 * frameCount);
  });

  it('the notes, at the pitch that was read', () => {
    take('Notes as MIDI');
    const notes = readMidiFile(saved.mock.calls[0][1] as Uint8Array);
    expect(notes.map(({ midi }) => Math.round(midi))).toEqual([45]);
  });

  it('the recipe, in words', () => {
    take('Recipe as text');
    expect(saved.mock.calls[0][0]).toBe('lamp-lit-low-recipe.md');
    expect(saved.mock.calls[0][1]).toContain('Low-pass');
  });
});

describe('Proofs', () => {
  it('say so when there is none', () => {
    finish();
    expect(screen.getByText('None kept yet.')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Keep a proof' }).hasAttribute('disabled')).toBe(true);
  });

  it('are listed with their distance and their sound, and bring their patch back', async () => {
    finish([kept]);
    expect(screen.getByText('1.3 JND')).toBeTruthy();
    const wav = screen.getByRole('link', { name: 'WAV' });
    expect(wav.getAttribute('href')).toBe('/api/proofs/proof-1/audio');
    expect(wav.getAttribute('download')).toBe('nearly-there.wav');
    const patch = { ...emptyPatch(), name: 'Of the proof' };
    const document = await packed(patch);
    jest.spyOn(client, 'proof').mockResolvedValue({ ...kept, cutId: null, patch: document, notes: [] });
    fireEvent.click(screen.getByRole('button', { name: 'Bring back' }));
    await waitFor(() => expect(usePatchStore.getState().patch).toEqual(patch));
  });

  it('are forgotten once the server has forgotten them', async () => {
    finish([kept]);
    const forget = jest.spyOn(client, 'deleteProof').mockResolvedValue(undefined);
    fireEvent.click(screen.getByRole('button', { name: 'Delete' }));
    expect(await screen.findByText('None kept yet.')).toBeTruthy();
    expect(forget).toHaveBeenCalledWith('proof-1');
  });

  it('stay when the server did not', async () => {
    finish([kept]);
    jest.spyOn(client, 'deleteProof').mockRejectedValue(new Error('The server does not answer.'));
    fireEvent.click(screen.getByRole('button', { name: 'Delete' }));
    await new Promise((done) => setTimeout(done, 20));
    expect(screen.getByText('Nearly there')).toBeTruthy();
  });
});
