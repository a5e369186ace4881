import { describe, expect, it } from 'vitest';
import { isWatched, readFields } from '../src/model/formFields';
import { findPrivateLink, isStageToken } from '../src/model/privateToken';
import { createVisibleClock } from '../src/model/visibleClock';

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
    expect(isWatched({ id: 'newsletter', name: null }, watched)).toBe(true);
    expect(isWatched({ id: '', name: 'newsletter' }, watched)).toBe(true);
    expect(isWatched({ id: 'search', name: 'q' }, watched)).toBe(false);
  });
});

describe('a private link', () => {
  it('is found behind the fragment and leaves the rest to the page', () => {
    expect(findPrivateLink('#chapter&outcry=abc.def')).toEqual({ token: 'abc.def', rest: '#chapter' });
    expect(findPrivateLink('#outcry=abc.def')).toEqual({ token: 'abc.def', rest: '' });
    expect(findPrivateLink('#chapter')).toBeUndefined();
  });

  it('says what it is for, and nonsense is for nothing', () => {
    expect(isStageToken(`${btoa('{"t":"stage"}')}.x`)).toBe(true);
    expect(isStageToken(`${btoa('{"t":"member"}')}.x`)).toBe(false);
    expect(isStageToken('nonsense')).toBe(false);
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
