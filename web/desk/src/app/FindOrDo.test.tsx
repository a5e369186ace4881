// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, expect, it, vi } from 'vitest';
import { DeskContext } from '../session/desk';
import { FindOrDo } from './FindOrDo';
import { fits } from './FindOrDoBox';

// The site's own things never come: what can be done is there without them. The client takes fetch as it is made.
vi.hoisted(() => {
  globalThis.fetch = () => new Promise(() => {});
});

const went = vi.fn();
vi.mock('@tanstack/react-router', () => ({ useNavigate: () => went }));

function open() {
  const client = new QueryClient();
  const desk = {
    site: { id: 's1', key: 'k' },
    member: { id: 'm', role: 'owner', rights: ['see', 'draft', 'publish', 'connect', 'govern'], workspaces: [] },
    workspace: { id: 'w' },
    chooseSite: vi.fn(),
  };
  render(
    <QueryClientProvider client={client}>
      <DeskContext value={desk as never}>
        <FindOrDo onHelp={vi.fn()} />
      </DeskContext>
    </QueryClientProvider>,
  );
}

afterEach(() => {
  cleanup();
  went.mockClear();
});

it('opens by its key and goes where the words lead that somebody thinks of first', async () => {
  open();
  const user = userEvent.setup();
  await user.keyboard('{Control>}k{/Control}');
  await user.type(await screen.findByRole('combobox'), 'csv');
  await user.keyboard('{Enter}');
  expect(went).toHaveBeenCalledWith({ to: '/ledger', search: { panel: 'import' } });
  expect(screen.queryByRole('combobox')).toBeNull();
});

it('says so where nothing is called that', async () => {
  open();
  const user = userEvent.setup();
  await user.click(screen.getByRole('button', { name: 'Find or do' }));
  await user.type(await screen.findByRole('combobox'), 'zzqx');
  expect(await screen.findByText(/Nothing here is called that|Fetching what there is/)).toBeTruthy();
});

it('takes every word typed as part of a name, in any order, and no letters of an id', () => {
  expect(fits('Kiln opening #p1', 'open kiln')).toBe(1);
  expect(fits('Kiln opening #p1', 'p1')).toBe(0);
  expect(fits('Erase a person #', 'pi')).toBe(0);
  expect(fits('Import events #', 'csv', ['csv', 'file'])).toBe(1);
});
