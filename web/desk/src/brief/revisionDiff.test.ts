import { describe, expect, it } from 'vitest';
import { NO_NAMES } from './model';
import { compareBriefs } from './revisionDiff';
import { aBrief } from './sample';

describe('two briefs compared', () => {
  it('tells word by word what differs, and leaves out what does not', () => {
    const older = aBrief();
    const newer = { ...older, say: { ...older.say, message: 'Somebody bought **{{ product }}** today' } };
    const diffs = compareBriefs(older, newer, NO_NAMES);
    expect(diffs.map((d) => d.facet)).toEqual(['say']);
    const words = (is: string) =>
      diffs[0]?.runs
        .filter((r) => r.is === is)
        .map((r) => r.words.trim())
        .join(' ');
    expect(words('new')).toContain('today');
    const whole = (keep: string) =>
      diffs[0]?.runs
        .filter((r) => r.is !== keep)
        .map((r) => r.words)
        .join('');
    expect(whole('new')).toContain('Say ');
    expect(whole('gone')).toContain('today');
  });

  it('finds nothing between a brief and itself', () => {
    expect(compareBriefs(aBrief(), aBrief(), NO_NAMES)).toEqual([]);
  });
});
