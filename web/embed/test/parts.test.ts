import { describe, expect, it } from 'vitest';
import { findPrivateLink, kindOf } from '../src/core/privateToken';
import { createVisibleClock } from '../src/core/visibleClock';
import { formKey, isWatched, readFields } from '../src/listen/formFields';
import { pendingOf, settle } from '../src/listen/pending';

describe('reading a form', () => {
  const control = (name: string, value: string, type = 'text', autocomplete = '') => ({ name, value, type, autocomplete });

  it('takes the mapped fields and nothing else', () => {
    const controls = [control('email', 'a@b.example'), control('comment', 'secret')];
    expect(readFields(controls, ['email'])).toEqual({ email: 'a@b.example' });
  });

  it('never takes passwords, hidden fields or cards, even when mapped', () => {
    const controls = [control('a', 'x', 'password'), control('b', 'x', 'hidden'), control('c', 'x', 'text', 'billing cc-number')];
    expect(readFields(controls, ['a', 'b', 'c'])).toEqual({});
  });

  it('knows a form by its id or its name', () => {
    const watched = { source: 's', form: 'newsletter', fields: [] };
    expect(isWatched({ id: 'newsletter', name: null, fields: [] }, watched)).toBe(true);
    expect(isWatched({ id: '', name: 'newsletter', fields: [] }, watched)).toBe(true);
    expect(isWatched({ id: 'search', name: 'q', fields: [] }, watched)).toBe(false);
  });

  it('knows a form that has neither by what its fields are called', () => {
    const form = { id: '', name: null, fields: ['your_name', 'email'] };
    expect(formKey(form)).toBe('fields:your_name,email');
    expect(isWatched(form, { source: 's', form: 'fields:your_name,email', fields: [] })).toBe(true);
    expect(isWatched(form, { source: 's', form: 'fields:email', fields: [] })).toBe(false);
  });
});

describe('a form that counts only when it went through', () => {
  const watched = { source: 's', form: 'quote', fields: ['name'] };

  it('counts at once when being sent is enough', () => {
    expect(pendingOf(watched, {}, 0)).toBeUndefined();
  });

  it('waits ten minutes for its thank-you page, and not longer', () => {
    const waits = pendingOf({ ...watched, page: '^/quote/thanks$' }, { name: 'Noor' }, 1000);
    expect(waits?.until).toBe(601_000);
    const pending = waits ? [waits] : [];
    expect(settle(pending, '/quote', 2000, () => false)).toEqual({ proved: [], waiting: pending });
    expect(settle(pending, '/Quote/Thanks/', 2000, () => false).proved).toEqual(pending);
    expect(settle(pending, '/quote/thanks', 601_001, () => false)).toEqual({ proved: [], waiting: [] });
  });

  it('waits for an element to show', () => {
    const waits = pendingOf({ ...watched, element: '.sent' }, {}, 0);
    const pending = waits ? [waits] : [];
    expect(settle(pending, '/', 1, () => false).waiting).toEqual(pending);
    expect(settle(pending, '/', 1, (selector) => selector === '.sent').proved).toEqual(pending);
  });

  it('is not proved by a broken pattern, path or selector', () => {
    const broken = { source: 's', fields: {}, page: '(', element: undefined, until: 10 };
    expect(settle([broken], '/%E0%A4%A', 1, () => false).waiting).toEqual([broken]);
    const odd = { ...broken, page: undefined, element: '((' };
    expect(
      settle([odd], '/', 1, () => {
        throw new Error('no selector');
      }).waiting,
    ).toEqual([odd]);
  });
});

describe('a private link', () => {
  it('is found behind the fragment and leaves the rest to the page', () => {
    expect(findPrivateLink('#chapter&outcry=abc.def')).toEqual({ token: 'abc.def', rest: '#chapter' });
    expect(findPrivateLink('#outcry=abc.def')).toEqual({ token: 'abc.def', rest: '' });
    expect(findPrivateLink('#chapter')).toBeUndefined();
  });

  it('says what it is for, and nonsense is for nothing', () => {
    expect(kindOf(`${btoa('{"t":"stage"}')}.x`)).toBe('stage');
    expect(kindOf(`${btoa('{"t":"trial"}')}.x`)).toBe('trial');
    expect(kindOf('nonsense')).toBeUndefined();
    expect(kindOf(undefined)).toBeUndefined();
  });
});

describe('the visible clock', () => {
  it('stands still while the tab is hidden', () => {
    let wall = 0;
    const clock = createVisibleClock(() => wall, true);
    wall = 8_000;
    clock.setVisible(false);
    wall = 60_000;
    expect(clock.nowMs()).toBe(8_000);
    clock.setVisible(true);
    wall = 72_000;
    expect(clock.nowMs()).toBe(20_000);
  });

  it('starts still in a tab that opens in the background', () => {
    const clock = createVisibleClock(() => 5, false);
    expect(clock.isStill()).toBe(true);
    expect(clock.nowMs()).toBe(0);
  });
});
