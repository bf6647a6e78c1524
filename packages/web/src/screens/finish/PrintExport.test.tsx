import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { writeMidiFile } from '@imprint/core/formats/midi';
import { readWav } from '@imprint/core/formats/wav';
import { emptyPatch } from '@imprint/core/patch/defaults';
import { toneApi } from '../../stores/threads';
import { PrintExport } from './PrintExport';

const saved = jest.fn<undefined, [string, Uint8Array, string]>();
jest.mock('../../app/download', () => ({
  download: (...all: [string, Uint8Array, string]) => saved(...all),
}));
jest.mock('../../stores/threads', () => ({ toneApi: jest.fn() }));

const phrase = [{ onsetSeconds: 0, durationSeconds: 0.5, midi: 45, velocity: 90 }];
const printed = jest.fn();

function exporting(peak: number) {
  printed.mockResolvedValue([Float32Array.of(0, peak, -peak / 2), Float32Array.of(0, 0, 0)]);
  (toneApi as jest.Mock).mockReturnValue({ render: printed });
  render(
    <QueryClientProvider client={new QueryClient()}>
      <PrintExport patch={emptyPatch()} phrase={phrase} fileName="proof.wav" />
    </QueryClientProvider>,
  );
  fireEvent.click(screen.getByRole('button', { name: 'Export: Proof as WAV' }));
}
const peakOf = () => Math.max(...readWav(saved.mock.calls[0][1]).channels[0].map(Math.abs));
const type = (label: string, text: string) => {
  fireEvent.change(screen.getByLabelText(label), { target: { value: text } });
  fireEvent.blur(screen.getByLabelText(label));
};

beforeEach(() => {
  saved.mockClear();
  printed.mockClear();
});

it('writes a print that fits at once, of the notes of the cut', async () => {
  exporting(0.8);
  await waitFor(() => expect(saved).toHaveBeenCalledTimes(1));
  expect(peakOf()).toBeCloseTo(0.8, 3);
  expect(printed.mock.calls[0][1]).toEqual(phrase);
});

it.each([
  ['Lower to −1 dB', 10 ** (-1 / 20)],
  ['Export as it is', 1],
])('says before it clips, by how much, and offers to: %s', async (name, peak) => {
  exporting(1.5);
  expect((await screen.findByRole('alert')).textContent).toContain('+3.5 dB');
  expect(saved).not.toHaveBeenCalled();
  fireEvent.click(screen.getByRole('button', { name }));
  expect(peakOf()).toBeCloseTo(peak, 3);
  expect(screen.queryByRole('alert')).toBeNull();
});

it('prints any note, its length also in musical time', async () => {
  exporting(0.5);
  await waitFor(() => expect(printed).toHaveBeenCalledTimes(1));
  fireEvent.change(screen.getByLabelText('What is played'), { target: { value: 'note' } });
  type('Note', 'C3');
  type('Length', '1/2');
  type('Velocity', '64');
  type('Velocity', '300');
  fireEvent.click(await screen.findByRole('button', { name: 'Export: Proof as WAV' }));
  await waitFor(() => expect(printed).toHaveBeenCalledTimes(2));
  expect(printed.mock.calls[1][1]).toEqual([{ onsetSeconds: 0, durationSeconds: 1, midi: 48, velocity: 64 }]);
});

it('prints a MIDI file', async () => {
  exporting(0.5);
  await waitFor(() => expect(printed).toHaveBeenCalledTimes(1));
  const two = [phrase[0], { ...phrase[0], onsetSeconds: 0.5, midi: 52 }];
  const file = Object.assign(new Blob(), {
    name: 'line.mid',
    arrayBuffer: () => Promise.resolve(writeMidiFile(two).slice().buffer),
  });
  fireEvent.change(screen.getByLabelText('MIDI file to print'), { target: { files: [file] } });
  await screen.findByText('2 notes');
  fireEvent.click(screen.getByRole('button', { name: 'Export: Proof as WAV' }));
  await waitFor(() => expect(printed).toHaveBeenCalledTimes(2));
  expect(printed.mock.calls[1][1].map(({ midi }: { midi: number }) => midi)).toEqual([45, 52]);
});
