// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, describe, expect, it } from 'vitest';
import { ListField } from './ListField';

afterEach(cleanup);

function Held({ kept }: { kept: string[][] }) {
  const [values, setValues] = useState<string[]>([]);
  return (
    <ListField
      label="Tags"
      values={values}
      onValues={(next) => {
        kept.push(next);
        setValues(next);
      }}
    />
  );
}

describe('several entries in one field', () => {
  it('are typed key by key, commas and spaces included', () => {
    const kept: string[][] = [];
    render(<Held kept={kept} />);
    const field = screen.getByLabelText<HTMLInputElement>('Tags');
    let typed = '';
    for (const key of 'kiln, glaze maker,') {
      typed += key;
      fireEvent.change(field, { target: { value: typed } });
      expect(field.value).toBe(typed);
    }
    expect(kept.at(-1)).toEqual(['kiln', 'glaze maker']);
    fireEvent.blur(field);
    expect(field.value).toBe('kiln, glaze maker');
  });
});
