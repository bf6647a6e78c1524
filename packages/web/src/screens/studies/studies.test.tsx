import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { study } from '../../../test/study';
import { client } from '../../api/client';
import { StudiesScreen } from './StudiesScreen';

const answer = (status: number, body: unknown) =>
  Promise.resolve({ ok: status < 400, status, json: () => Promise.resolve(body) } as Response);

/** A study as the server lists it. */
const listed = (letter: 'a' | 'b') => {
  const id = `00000000-0000-4000-8000-00000000000${letter}`;
  const { reference, ...others } = study(letter);
  return { ...others, id, reference: { ...reference, id } };
};

function show(): void {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  render(
    <QueryClientProvider client={queries}>
      <MemoryRouter>
        <StudiesScreen />
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

afterEach(() => jest.restoreAllMocks());

it('shows the studies that it can, and names one that it cannot', async () => {
  globalThis.fetch = jest.fn(() =>
    answer(200, [listed('a'), { ...listed('b'), title: 'From tomorrow', role: 'choir' }, 7]),
  );
  show();
  expect(await screen.findByRole('link', { name: 'Study a' })).toBeTruthy();
  expect(screen.getByText('2 of these cannot be shown by this page.', { exact: false })).toBeTruthy();
  expect(screen.getByText('From tomorrow')).toBeTruthy();
});

it('shows a study whose name is only blanks, as one was once kept', async () => {
  globalThis.fetch = jest.fn(() => answer(200, [{ ...listed('a'), title: '  ' }, listed('b')]));
  show();
  expect(await screen.findByRole('link', { name: 'Study b' })).toBeTruthy();
  expect(screen.getAllByRole('row')).toHaveLength(3);
});

it('says in the server’s words why there is no list, and never in those of a schema', async () => {
  globalThis.fetch = jest.fn(() =>
    answer(503, { error: { code: 'away', message: 'The database does not answer; nothing was changed.' } }),
  );
  show();
  expect(await screen.findByText('The database does not answer; nothing was changed.')).toBeTruthy();
  jest.spyOn(console, 'error').mockImplementation(() => undefined);
  globalThis.fetch = jest.fn(() => answer(200, { studies: [] }));
  fireEvent.click(screen.getByRole('button', { name: 'Try again' }));
  expect(
    await screen.findByText('What the server answered cannot be shown by this page.', { exact: false }),
  ).toBeTruthy();
});

it('puts a study into the trash with one click, and back with another', async () => {
  let there = [study('a'), study('b')];
  jest.spyOn(client, 'studies').mockImplementation(() => Promise.resolve({ shown: there, unshown: [] }));
  const remove = jest
    .spyOn(client, 'deleteStudy')
    .mockImplementation(() => Promise.resolve(void (there = [study('b')])));
  show();
  fireEvent.click(await screen.findByRole('button', { name: 'Delete Study a' }));
  await waitFor(() => expect(screen.queryByRole('link', { name: 'Study a' })).toBeNull());
  expect(remove).toHaveBeenCalledWith('a');
});
