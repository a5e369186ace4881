import { describe, expect, it } from 'vitest';
import { hearingOf, STALE_AFTER_MS } from './model';

describe('hearing the snippet', () => {
  const at = Date.parse('2026-11-24T12:00:00Z');
  it('waits until the first word', () => expect(hearingOf(null, at)).toBe('waiting'));
  it('is heard for a day and stale after it', () => {
    expect(hearingOf('2026-11-24T12:00:00Z', at + STALE_AFTER_MS)).toBe('heard');
    expect(hearingOf('2026-11-24T12:00:00Z', at + STALE_AFTER_MS + 1)).toBe('stale');
  });
});
