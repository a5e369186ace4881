// @vitest-environment happy-dom
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { Choice, NumberField, TextField } from './Field';
import { Panel } from './Panel';
import { TypedInput } from './Typed';
import { useRowKeys } from './useRowKeys';

afterEach(cleanup);

function Numbered({ min, max, told }: { min: number; max: number; told?: (n: number) => void }) {
  const [value, setValue] = useState(4);
  return (
    <>
      <NumberField
        label="Every"
        value={value}
        min={min}
        max={max}
        onValue={(n) => {
          told?.(n);
          setValue(n);
        }}
      />
      <button type="button" onClick={() => setValue(9)}>
        elsewhere
      </button>
    </>
  );
}

describe('a number', () => {
  it('out of bounds is brought within them when one goes on, and says why', async () => {
    render(<Numbered min={1} max={10} />);
    const field = screen.getByLabelText<HTMLInputElement>('Every');
    await userEvent.clear(field);
    await userEvent.type(field, '500');
    await userEvent.tab();
    expect(field.value).toBe('10');
    expect(screen.getByRole('status').textContent).toBe('From 1 to 10: 10 is taken.');
  });

  it('never leaves its bounds on the way', async () => {
    const told = vi.fn();
    render(<Numbered min={2} max={120} told={told} />);
    const field = screen.getByLabelText<HTMLInputElement>('Every');
    await userEvent.clear(field);
    await userEvent.type(field, '15');
    expect(told.mock.calls.flat()).toEqual([15]);
  });

  it('emptied keeps what was, and follows a change from elsewhere', async () => {
    render(<Numbered min={1} max={10} />);
    const field = screen.getByLabelText<HTMLInputElement>('Every');
    await userEvent.clear(field);
    await userEvent.tab();
    expect(field.value).toBe('4');
    await userEvent.click(screen.getByText('elsewhere'));
    expect(field.value).toBe('9');
  });
});

describe('a text', () => {
  it('keeps the space between two words while it is typed', async () => {
    const kept = vi.fn();
    function Field() {
      const [value, setValue] = useState('');
      return (
        <TextField
          label="Campaign"
          value={value}
          onText={(text) => {
            kept(text);
            setValue(text);
          }}
        />
      );
    }
    render(<Field />);
    await userEvent.type(screen.getByLabelText('Campaign'), 'spring sale ');
    expect(screen.getByLabelText<HTMLInputElement>('Campaign').value).toBe('spring sale ');
    expect(kept).toHaveBeenLastCalledWith('spring sale');
  });
});

describe('rows without keys of their own', () => {
  function Languages() {
    const [texts, setTexts] = useState(['eins', 'zwei', 'drei']);
    const rows = useRowKeys(texts.length);
    return (
      <ul>
        {texts.map((text, place) => (
          <li key={rows.keys[place]}>
            <TypedInput
              aria-label={`text ${place + 1}`}
              value={text}
              onValue={(next) => setTexts(texts.map((t, i) => (i === place ? next : t)))}
            />
            <button
              type="button"
              onClick={() => {
                rows.removed(place);
                setTexts(texts.filter((_, i) => i !== place));
              }}
            >
              remove {place + 1}
            </button>
          </li>
        ))}
      </ul>
    );
  }

  it('keep their texts and their fields when one is taken out', async () => {
    render(<Languages />);
    const third = screen.getByLabelText('text 3');
    await userEvent.type(third, ' neu');
    await userEvent.click(screen.getByText('remove 1'));
    expect(screen.getAllByRole<HTMLInputElement>('textbox').map((f) => f.value)).toEqual(['zwei', 'drei neu']);
    expect(screen.getByLabelText('text 2')).toBe(third);
  });
});

describe('two choices of the same words', () => {
  it('are chosen apart', async () => {
    function Two() {
      const [values, setValues] = useState(['all', 'all']);
      return values.map((value, i) => (
        <Choice
          // biome-ignore lint/suspicious/noArrayIndexKey: two, always the same.
          key={i}
          legend="Joined"
          value={value}
          choices={[
            ['all', 'all of them'],
            ['any', 'one of them'],
          ]}
          onChoose={(v) => setValues(values.map((w, j) => (j === i ? v : w)))}
        />
      ));
    }
    render(<Two />);
    const [, , , fourth] = screen.getAllByRole<HTMLInputElement>('radio');
    await userEvent.click(fourth as HTMLElement);
    expect(screen.getAllByRole<HTMLInputElement>('radio').map((r) => r.checked)).toEqual([true, false, false, true]);
  });
});

describe('a side sheet', () => {
  function Desk() {
    const [open, setOpen] = useState(false);
    return (
      <>
        <button type="button" onClick={() => setOpen(true)}>
          Open
        </button>
        {open && (
          <Panel label="The chosen source" title="Orders" onClose={() => setOpen(false)}>
            <input aria-label="Name" />
          </Panel>
        )}
      </>
    );
  }

  it('takes the focus, keeps what is typed when Escape is pressed in a field, and gives the focus back', async () => {
    render(<Desk />);
    await userEvent.click(screen.getByText('Open'));
    const sheet = screen.getByRole('complementary');
    expect(document.activeElement).toBe(sheet);
    await userEvent.type(screen.getByLabelText('Name'), 'half a word{Escape}');
    expect(screen.getByLabelText<HTMLInputElement>('Name').value).toBe('half a word');
    screen.getByLabelText('Close this panel').focus();
    await userEvent.keyboard('{Escape}');
    expect(screen.queryByRole('complementary')).toBeNull();
    expect(document.activeElement).toBe(screen.getByText('Open'));
  });

  it('has no stop for the keyboard without a name', async () => {
    render(<Desk />);
    await userEvent.click(screen.getByText('Open'));
    for (const stop of document.querySelectorAll('[tabindex="0"]')) expect(stop.getAttribute('aria-label')).toBeTruthy();
  });
});
