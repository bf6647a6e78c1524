import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { type Comparison, compareTones } from '@imprint/core/matching/comparison';
import { openPatch, readingOfSaw, soundOfSaw } from '../../test/page';
import { modulesOf } from '@imprint/core/patch/modules';
import { usePatchStore } from '../stores/patchStore';
import { useSelection } from '../stores/selectionStore';
import { closed, useStudyStore } from '../stores/studyStore';
import { Ledger } from './Ledger';

const { pitch } = readingOfSaw.traits;
const sharper = {
  ...readingOfSaw,
  traits: { ...readingOfSaw.traits, pitch: { ...pitch, cents: (pitch.cents ?? 0) + 40, f0Hz: 110 * 2 ** (40 / 1200) } },
};

const saw = { audio: soundOfSaw, reading: readingOfSaw };

function ledger(comparison: Comparison | null, printing = false) {
  openPatch();
  useStudyStore.setState({
    ...closed,
    cuts: [{ id: 'cut-1', notes: null, overrules: {} }] as never,
    cutId: 'cut-1',
    readings: { 'cut-1': readingOfSaw },
    proof: comparison && ({ comparison } as never),
    printing,
  });
  render(<Ledger />, { wrapper: MemoryRouter });
}

it('says what is missing before there is a gap to show', () => {
  ledger(null);
  expect(screen.getByText('Printing the patch over the cut …')).toBeTruthy();
  act(() => usePatchStore.getState().setPatch(null));
  expect(screen.getByText(/^There is no patch yet/)).toBeTruthy();
  act(() => useStudyStore.setState({ readings: {} }));
  expect(screen.getByText(/once the cut is measured/)).toBeTruthy();
});

it('lists the gaps, the widest first, and says what closes it', () => {
  const comparison = compareTones(saw, { audio: soundOfSaw, reading: sharper });
  ledger(comparison);
  expect(screen.getByTestId('overall-jnd').textContent).toBe(comparison.overallJnd.toFixed(1));
  const rows = screen.getAllByRole('listitem');
  expect(within(rows[0]).getByText('Pitch')).toBeTruthy();
  const gaps = rows.map((row) => Number(within(row).getByRole('button').lastElementChild!.textContent));
  expect(gaps).toEqual([...gaps].sort((a, b) => b - a));
  expect(screen.getByText(/^The patch is sharp: 110 Hz in the reference, 113 Hz in the patch/)).toBeTruthy();
  expect(screen.getByText('Move Semitones and Fine of the source.')).toBeTruthy();
});

it('says of any gap that is chosen what closes it, and leads to the control', () => {
  ledger(compareTones(saw, { audio: soundOfSaw, reading: sharper }));
  const [row] = screen.getAllByRole('listitem');
  fireEvent.click(within(row).getByRole('button'));
  expect(within(row).getByRole('button').getAttribute('aria-pressed')).toBe('true');
  useSelection.setState({ moduleId: '' });
  fireEvent.click(screen.getByRole('button', { name: 'To the control' }));
  const { patch } = usePatchStore.getState();
  const ids = modulesOf(patch!.layers[0]).map(({ id }) => id);
  expect(ids).toContain(useSelection.getState().moduleId);
});

it('says when to stop', () => {
  ledger(compareTones(saw, saw));
  expect(screen.getByText(/This is the moment to stop/)).toBeTruthy();
  expect(screen.getByTestId('overall-jnd').textContent).toBe('0.0');
});

it('shows that what stands there is of the patch before, while it prints', () => {
  ledger(compareTones(saw, saw), true);
  expect(screen.getByTestId('overall-jnd').closest('[aria-busy=true]')).toBeTruthy();
});
