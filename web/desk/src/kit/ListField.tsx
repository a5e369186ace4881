import { type ReactNode, useId } from 'react';
import { TypedInput } from './Typed';

/** What stands between commas; empty entries are none. */
export const entriesOf = (typed: string) =>
  typed
    .split(/[,;]+/)
    .map((t) => t.trim())
    .filter(Boolean);

/** Several short entries with commas between, kept as they are typed: a comma that was only just typed stays. */
export function ListField({
  label,
  hint,
  values,
  placeholder,
  onValues,
}: {
  label: string;
  hint?: ReactNode;
  values: readonly string[];
  placeholder?: string;
  onValues(values: string[]): void;
}) {
  const id = useId();
  return (
    <div className="grid gap-1">
      <label htmlFor={id} className="font-semibold">
        {label}
      </label>
      <TypedInput
        id={id}
        className="w-full placeholder:text-soft"
        aria-describedby={hint ? `${id}-says` : undefined}
        {...(placeholder === undefined ? {} : { placeholder })}
        value={values.join(', ')}
        read={(typed) => entriesOf(typed).join(', ')}
        onValue={(joined) => onValues(entriesOf(joined))}
      />
      {hint && (
        <p id={`${id}-says`} className="text-[12px] leading-4 text-soft">
          {hint}
        </p>
      )}
    </div>
  );
}
