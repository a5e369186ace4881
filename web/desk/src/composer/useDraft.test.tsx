// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, configure, renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Callout } from '../brief/types';
import { Refusal } from '../data/api';
import { saveDraft } from './api';
import { useDraft } from './useDraft';

// A busy machine may take its time; what never comes still fails.
configure({ asyncUtilTimeout: 10_000 });
vi.setConfig({ testTimeout: 20_000 });

vi.mock('./api', () => ({ saveDraft: vi.fn() }));
const newest = vi.hoisted(() => ({ callout: undefined as unknown }));
vi.mock('../callouts/api', () => ({
  calloutQuery: () => ({ queryKey: ['callout', 's1', 'c1'], queryFn: async () => newest.callout }),
}));

const callout = (name: string, draftVersion: number) =>
  ({ id: 'c1', name, draftVersion, draft: { say: { message: 'x', translations: [] } }, changedAt: '' }) as unknown as Callout;

function draftOf(first: Callout) {
  const queries = new QueryClient();
  const wrapper = ({ children }: { children: ReactNode }) => <QueryClientProvider client={queries}>{children}</QueryClientProvider>;
  return renderHook(({ given }) => useDraft('s1', given), { wrapper, initialProps: { given: first } });
}

describe('a draft', () => {
  afterEach(() => {
    cleanup();
    vi.mocked(saveDraft).mockReset();
  });

  it('that cannot be saved does not let what was saved before go live in its place', async () => {
    vi.mocked(saveDraft).mockRejectedValue(new Refusal(400, 'No name', 'A callout needs a name.', 'name'));
    const { result } = draftOf(callout('Bought', 3));
    act(() => result.current.edit({ name: '' }));
    await act(async () => {
      await expect(result.current.settle()).rejects.toThrow('A callout needs a name.');
    });
    expect(result.current.draft.name).toBe('');
    expect(result.current.saving.is).toBe('refused');
  });

  it('goes live as what was saved last once it is saved', async () => {
    vi.mocked(saveDraft).mockImplementation(async (_s, _c, name) => callout(name, 4));
    const { result } = draftOf(callout('Bought', 3));
    act(() => result.current.edit({ name: 'Bought a mug' }));
    await act(async () => {
      expect(await result.current.settle()).toBe(4);
    });
    expect(vi.mocked(saveDraft)).toHaveBeenCalledWith('s1', 'c1', 'Bought a mug', expect.anything(), 3);
  });

  it('of a colleague appears by itself while nothing of one’s own waits', async () => {
    const { result, rerender } = draftOf(callout('Bought', 3));
    rerender({ given: callout('Bought a kit', 4) });
    await waitFor(() => expect(result.current.draft.name).toBe('Bought a kit'));
    act(() => result.current.undo());
    expect(result.current.draft.name).toBe('Bought');
  });

  it('saved by a colleague at the same time is put together with one’s own', async () => {
    vi.mocked(saveDraft)
      .mockRejectedValueOnce(new Refusal(409, 'The draft has changed meanwhile', 'Teo saved a newer version.'))
      .mockImplementation(async (_s, _c, name, brief, version) => ({ ...callout(name, version + 1), draft: brief }));
    newest.callout = { ...callout('Bought', 4), draft: { say: { message: 'theirs', translations: [] } }, changedBy: 'Teo' };
    const { result } = draftOf(callout('Bought', 3));
    act(() => result.current.edit({ name: 'Mine' }));
    await waitFor(() => expect(result.current.saving.is).toBe('saved'));
    expect(result.current.draft.name).toBe('Mine');
    expect(result.current.draft.brief.say.message).toBe('theirs');
    expect(vi.mocked(saveDraft)).toHaveBeenLastCalledWith('s1', 'c1', 'Mine', result.current.draft.brief, 4);
  });

  it('that both changed in the same place is saved once somebody has chosen', async () => {
    vi.mocked(saveDraft)
      .mockRejectedValueOnce(new Refusal(409, 'The draft has changed meanwhile', 'Teo saved a newer version.'))
      .mockImplementation(async (_s, _c, name, _b, version) => callout(name, version + 1));
    newest.callout = { ...callout('Theirs', 4), changedBy: 'Teo' };
    const { result } = draftOf(callout('Bought', 3));
    act(() => result.current.edit({ name: 'Mine' }));
    await waitFor(() => expect(result.current.saving.is).toBe('apart'));
    expect(result.current.draft.name).toBe('Mine');
    act(() => {
      if (result.current.saving.is === 'apart') result.current.saving.takeTheirs();
    });
    await waitFor(() => expect(result.current.saving.is).toBe('saved'));
    expect(result.current.draft.name).toBe('Theirs');
    act(() => result.current.undo());
    expect(result.current.draft.name).toBe('Mine');
  });

  it('keeps what was typed while somebody had still to choose', async () => {
    vi.mocked(saveDraft)
      .mockRejectedValueOnce(new Refusal(409, 'The draft has changed meanwhile', 'Teo saved a newer version.'))
      .mockImplementation(async (_s, _c, name, _b, version) => callout(name, version + 1));
    newest.callout = { ...callout('Theirs', 4), changedBy: 'Teo' };
    const { result } = draftOf(callout('Bought', 3));
    act(() => result.current.edit({ name: 'Mine' }));
    await waitFor(() => expect(result.current.saving.is).toBe('apart'));
    const { saving } = result.current;
    act(() => {
      result.current.edit({ name: 'Mine, and more' });
      if (saving.is === 'apart') saving.keepMine();
    });
    await waitFor(() => expect(result.current.saving.is).toBe('saved'));
    expect(result.current.draft.name).toBe('Mine, and more');
  });

  it('of one’s own is not taken away by a colleague’s', async () => {
    vi.mocked(saveDraft).mockReturnValue(new Promise(() => undefined));
    const { result, rerender } = draftOf(callout('Bought', 3));
    act(() => result.current.edit({ name: 'Mine' }));
    rerender({ given: callout('Theirs', 4) });
    expect(result.current.draft.name).toBe('Mine');
  });
});
