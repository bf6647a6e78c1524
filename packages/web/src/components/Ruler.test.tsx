import { fireEvent, render, screen } from '@testing-library/react';
import { parameterTable } from '@imprint/core/parameters/table';
import { openPatch } from '../../test/page';
import { Ruler } from './Ruler';

beforeEach(() => void openPatch());

const { cutoffHz, resonanceDb } = parameterTable.lowpass;
const { unisonVoices } = parameterTable.shape;

function ruler(parameter = cutoffHz, value = 1000, more: Partial<Parameters<typeof Ruler>[0]> = {}) {
  const changes: number[] = [];
  render(<Ruler parameter={parameter} value={value} onChange={(next) => changes.push(next)} {...more} />);
  return { changes, slider: screen.getByRole('slider') };
}

/** jsdom has no PointerEvent with a place of its own. */
function pointer(target: Element, type: string, clientX: number, fields: object = {}): void {
  fireEvent(target, Object.assign(new MouseEvent(type, { bubbles: true, clientX, ...fields }), { pointerId: 1 }));
}

describe('A ruler', () => {
  it('tells its value with its unit', () => {
    const { slider } = ruler();
    expect(slider.getAttribute('aria-valuetext')).toBe('1 kHz');
    expect(screen.getByText('Cutoff at rest')).toBeTruthy();
  });

  it('moves by arrows, ten times as far by Page, a tenth with Shift', () => {
    const { changes, slider } = ruler(resonanceDb, 10);
    fireEvent.keyDown(slider, { key: 'ArrowRight' });
    fireEvent.keyDown(slider, { key: 'PageDown' });
    fireEvent.keyDown(slider, { key: 'ArrowUp', shiftKey: true });
    fireEvent.keyDown(slider, { key: 'Home' });
    fireEvent.keyDown(slider, { key: 'End' });
    // One step is a hundredth of 36 dB, rounded to tenths; a tenth of that rounds to nothing.
    expect(changes).toEqual([10.4, 6.4, 0, 36]);
  });

  it('counts whole things in whole steps', () => {
    const { changes, slider } = ruler(unisonVoices, 4);
    fireEvent.keyDown(slider, { key: 'ArrowRight' });
    fireEvent.keyDown(slider, { key: 'ArrowLeft', shiftKey: true });
    expect(changes).toEqual([5, 3]);
  });

  it('takes typed values with their units', () => {
    const { changes, slider } = ruler();
    fireEvent.keyDown(slider, { key: 'Enter' });
    const field = screen.getByLabelText('Cutoff at rest, typed');
    fireEvent.change(field, { target: { value: '350 Hz' } });
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(changes).toEqual([350]);
  });

  it.each([
    ['loud', []],
    ['3 dB', []],
    ['90 kHz', [20000]],
  ])('typed “%s” changes it to %p', (text, expected) => {
    const { changes } = ruler();
    fireEvent.click(screen.getByTitle('Type a value with its unit'));
    const field = screen.getByLabelText('Cutoff at rest, typed');
    fireEvent.change(field, { target: { value: text } });
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(changes).toEqual(expected);
  });

  it('a digit begins to type a value, which may be a length in musical time', () => {
    const { changes, slider } = ruler(parameterTable.envelope.attackSeconds, 0.01);
    fireEvent.keyDown(slider, { key: '1' });
    const field = screen.getByLabelText('Attack, typed') as HTMLInputElement;
    expect(field.value).toBe('1');
    fireEvent.change(field, { target: { value: '1/16' } });
    fireEvent.keyDown(field, { key: 'Enter' });
    // A sixteenth at the 120 of an untouched patch.
    expect(changes).toEqual([0.125]);
  });

  it('leaves the value when typing is given up', () => {
    const { changes, slider } = ruler();
    fireEvent.keyDown(slider, { key: 'Enter' });
    fireEvent.keyDown(screen.getByLabelText('Cutoff at rest, typed'), { key: 'Escape' });
    expect(changes).toEqual([]);
    expect(screen.getByRole('slider')).toBe(slider);
  });

  it('is dragged by its handle, and jumps to a pointer elsewhere', () => {
    const { changes, slider } = ruler(resonanceDb, 18);
    // The handle stands in the middle of 200 pixels.
    pointer(slider, 'pointerdown', 102);
    pointer(slider, 'pointermove', 122);
    pointer(slider, 'pointerup', 122);
    expect(changes.at(-1)).toBeCloseTo(21.6, 1);
    pointer(slider, 'pointerdown', 20);
    expect(changes.at(-1)).toBeCloseTo(3.6, 1);
    pointer(slider, 'pointerup', 20);
  });

  it('moves a tenth as far while Shift is held', () => {
    const { changes, slider } = ruler(resonanceDb, 18);
    pointer(slider, 'pointerdown', 100);
    pointer(slider, 'pointermove', 120, { shiftKey: true });
    expect(changes.at(-1)).toBeCloseTo(18.4, 1);
    pointer(slider, 'pointercancel', 120);
  });

  it('shows what was measured, and takes it over at a double click with Alt; without it the default comes back', () => {
    const { changes, slider } = ruler(cutoffHz, 1000, { measured: { value: 298, low: 280, high: 320 } });
    expect(screen.getByText('read 298 Hz')).toBeTruthy();
    fireEvent.doubleClick(slider, { altKey: true });
    expect(changes).toEqual([298]);
    fireEvent.doubleClick(slider);
    expect(changes).toEqual([298, cutoffHz.default]);
  });

  it('shows how far routes carry it', () => {
    ruler(cutoffHz, 300, { sweep: { from: 300, to: 3000, label: 'unipolar +40 st' } });
    expect(screen.getByText('unipolar +40 st')).toBeTruthy();
  });

  it('turns with the wheel only while it has the focus', () => {
    const { changes, slider } = ruler(resonanceDb, 18);
    fireEvent.wheel(slider, { deltaY: -100 });
    expect(changes).toEqual([]);
    slider.focus();
    fireEvent.wheel(slider, { deltaY: -100 });
    fireEvent.wheel(slider, { deltaY: 100 });
    expect(changes).toEqual([18.4, 17.6]);
  });
});
