import type { InputHTMLAttributes, Ref } from 'react';
import { trimmed, useTyped } from './useTyped';

/** A field for a short text that is kept without the spaces around it. */
export function TypedInput({
  value,
  onValue,
  read = trimmed,
  ref,
  ...rest
}: Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange'> & {
  value: string;
  onValue(value: string): void;
  /** What is kept of what is typed. */
  read?: (typed: string) => string;
  ref?: Ref<HTMLInputElement>;
}) {
  const typed = useTyped(value, read);
  return (
    <input
      {...rest}
      ref={ref}
      value={typed.text}
      onChange={(e) => onValue(typed.type(e.currentTarget.value))}
      onBlur={(e) => {
        typed.leave();
        rest.onBlur?.(e);
      }}
    />
  );
}
