import { describe, expect, it } from 'vitest';
import { wayBack } from './undo';

const act = (act: string, link = '', changes: { what: string; before: string; after: string }[] = []) =>
  wayBack({ act, link, siteId: 's', changes }, 'w');

describe('the way back from an act', () => {
  it('is there where the act can be made undone as a whole, for whoever may do the opposite', () => {
    expect(act('paused', 'callout/c')?.right).toBe('publish');
    expect(act('deleted', 'launcher/l')?.right).toBe('draft');
    expect(act('took off air')?.right).toBe('publish');
    expect(act('changed the role of', 'member/m', [{ what: 'role', before: 'Viewer', after: 'Owner' }])?.right).toBe('govern');
  });

  it('is not offered where it would be another thing', () => {
    expect(act('published', 'callout/c')).toBeUndefined();
    // What was live before it was archived would come back paused.
    expect(act('archived', 'callout/c')).toBeUndefined();
    expect(act('erased')).toBeUndefined();
    expect(act('paused', 'event/e')).toBeUndefined();
    expect(act('changed the role of', 'member/m')).toBeUndefined();
  });
});
