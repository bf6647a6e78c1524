import { fireEvent, render, screen } from '@testing-library/react';
import { ScreenBoundary } from './ScreenBoundary';

let broken: boolean;
function Screen() {
  if (broken) throw new Error('no such partial');
  return <p>All is well.</p>;
}

beforeEach(() => jest.spyOn(console, 'error').mockImplementation(() => undefined));
afterEach(() => jest.restoreAllMocks());

it('keeps what goes wrong to its screen, and shows it again on request', () => {
  broken = true;
  render(
    <>
      <p>The rest</p>
      <ScreenBoundary place="/build">
        <Screen />
      </ScreenBoundary>
    </>,
  );
  expect(screen.getByText('The rest')).toBeTruthy();
  expect(screen.getByRole('alert').textContent).toContain('no such partial');
  broken = false;
  fireEvent.click(screen.getByRole('button', { name: 'Try again' }));
  expect(screen.getByText('All is well.')).toBeTruthy();
});

it('is whole again on another screen', () => {
  broken = true;
  const at = (place: string) => (
    <ScreenBoundary place={place}>
      <Screen />
    </ScreenBoundary>
  );
  const { rerender } = render(at('/build'));
  expect(screen.getByRole('alert')).toBeTruthy();
  broken = false;
  rerender(at('/read'));
  expect(screen.getByText('All is well.')).toBeTruthy();
});
