// @vitest-environment happy-dom
// @vitest-environment-options {"settings": {"disableIframePageLoading": true, "handleDisabledFileLoadingAsSuccess": true}}
import { act, cleanup, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { ANSWERS_WITHIN_MS, FramedPage, type Told } from './FramedPage';

const ORIGIN = 'https://pots.example';
const onTold = vi.fn<(told: Told) => void>();

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      disconnect() {}
    },
  );
});

afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const stage = (path: string) => (
  <FramedPage
    of="draft"
    page={`${ORIGIN}${path}`}
    sketch={`/sketch${path}`}
    origin={ORIGIN}
    isHeard
    path={path}
    state="1"
    width={1024}
    first={{ width: 600, height: 300 }}
    onTold={onTold}
  />
);

const frame = (title: string) => screen.getByTitle<HTMLIFrameElement>(title);
const wait = (ms: number) => act(() => vi.advanceTimersByTime(ms));
const answer = (title: string, origin: string, missing: string[] = []) =>
  act(() =>
    window.dispatchEvent(
      new MessageEvent('message', { origin, source: frame(title).contentWindow, data: { outcry: 'staged', lifted: [], missing } }),
    ),
  );

test('a page that says nothing for long is stood in for, and takes its place once it answers', () => {
  render(stage('/shop'));
  expect(frame('This draft on /shop').className).toContain('invisible');
  wait(ANSWERS_WITHIN_MS - 1);
  expect(screen.queryByTitle('This draft on a sketch of /shop')).toBeNull();
  wait(1);
  answer('This draft on a sketch of /shop', location.origin);
  expect(onTold).toHaveBeenLastCalledWith({ staged: { note: undefined, lifted: [], missing: [] }, isSketch: true });

  answer('This draft on /shop', ORIGIN, ['This page has no "#news".']);
  expect(screen.queryByTitle('This draft on a sketch of /shop')).toBeNull();
  expect(frame('This draft on /shop').className).not.toContain('invisible');
  expect(onTold).toHaveBeenLastCalledWith({
    staged: { note: undefined, lifted: [], missing: ['This page has no "#news".'] },
    isSketch: false,
  });
});

test('that one page said nothing is held against no other of a site that has spoken', () => {
  const { rerender } = render(stage('/shop'));
  wait(ANSWERS_WITHIN_MS);
  expect(frame('This draft on a sketch of /shop')).toBeTruthy();
  rerender(stage('/journal'));
  expect(screen.queryByTitle('This draft on a sketch of /journal')).toBeNull();
  expect(screen.getByText('Opening /journal')).toBeTruthy();
});
