// @vitest-environment happy-dom
import { QueryClientProvider, useMutation, useQuery } from '@tanstack/react-query';
import { cleanup, configure, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { Refusal } from '../data/api';
import { makeQueries } from '../data/queries';
import { Refused } from './Panel';
import { Toasts } from './Toasts';

// A busy machine may take its time; what never comes still fails.
configure({ asyncUtilTimeout: 10_000 });
vi.setConfig({ testTimeout: 20_000 });

afterEach(cleanup);

const refuse = (words: string) => () => Promise.reject(new Refusal(409, 'No', words));

function Act({ words, shows }: { words: string; shows: boolean }) {
  const act = useMutation({ mutationFn: refuse(words) });
  return (
    <>
      <button type="button" onClick={() => act.mutate()}>
        Pause
      </button>
      {shows && <Refused error={act.error} />}
    </>
  );
}

function Asked({ words }: { words: string }) {
  useQuery({ queryKey: ['asked', words], queryFn: refuse(words) });
  return null;
}

const drawn = (child: React.ReactNode) =>
  render(
    <QueryClientProvider client={makeQueries()}>
      {child}
      <Toasts />
    </QueryClientProvider>,
  );

describe('what fails', () => {
  it('in silence is told in passing', async () => {
    drawn(<Act words="Somebody was quicker." shows={false} />);
    await userEvent.click(screen.getByText('Pause'));
    await waitFor(() => expect(screen.getByText('Somebody was quicker.')).toBeTruthy());
  });

  it('and is told in its place is not told twice', async () => {
    drawn(<Act words="It is live already." shows />);
    await userEvent.click(screen.getByText('Pause'));
    await new Promise((done) => setTimeout(done, 200));
    expect(screen.getAllByText('It is live already.')).toHaveLength(1);
  });

  it('of what is only asked for is told as well', async () => {
    drawn(<Asked words="This list cannot be read." />);
    await waitFor(() => expect(screen.getByText('This list cannot be read.')).toBeTruthy());
  });
});
