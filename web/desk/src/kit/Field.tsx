import { type InputHTMLAttributes, type ReactNode, useId, useState } from 'react';
import { TypedInput } from './Typed';

/**
 * A labelled whole number.
 *
 * While it is typed anything may stand there; what is left there when one goes on is brought within its bounds, and it says so.
 */
export function NumberField({
  label,
  value,
  onValue,
  after,
  min,
  max,
  ...rest
}: Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'min' | 'max'> & {
  label: string;
  value: number;
  onValue(value: number): void;
  after?: string;
  min?: number;
  max?: number;
}) {
  const id = useId();
  const [typed, setTyped] = useState<{ text: string; beside: number }>();
  const [note, setNote] = useState('');
  const fits = (n: number) => (min === undefined || n >= min) && (max === undefined || n <= max);
  const read = (text: string) => (text.trim() === '' ? Number.NaN : Math.trunc(Number(text.replace(',', '.'))));
  return (
    <span className="grid gap-0.5">
      <label className="flex items-center gap-2">
        <span>{label}</span>
        <input
          type="number"
          className="w-20"
          {...rest}
          value={typed?.beside === value ? typed.text : value}
          min={min}
          max={max}
          aria-describedby={note ? `${id}-says` : undefined}
          onChange={(e) => {
            const n = read(e.currentTarget.value);
            const takes = Number.isFinite(n) && fits(n);
            setTyped({ text: e.currentTarget.value, beside: takes ? n : value });
            setNote('');
            if (takes && n !== value) onValue(n);
          }}
          onBlur={(e) => {
            const n = read(e.currentTarget.value);
            setTyped(undefined);
            if (Number.isFinite(n) && fits(n)) return;
            const kept = Number.isFinite(n) ? Math.min(max ?? n, Math.max(min ?? n, n)) : value;
            setNote(Number.isFinite(n) ? `${boundsWords(min, max)}: ${kept} is taken.` : `A whole number is needed: ${kept} is kept.`);
            if (kept !== value) onValue(kept);
          }}
        />
        {after && <span className="text-soft">{after}</span>}
      </label>
      {note && (
        <span id={`${id}-says`} role="status" className="text-[12px] leading-4 text-warn">
          {note}
        </span>
      )}
    </span>
  );
}

const boundsWords = (min: number | undefined, max: number | undefined) =>
  min !== undefined && max !== undefined
    ? `From ${min.toLocaleString('en-GB')} to ${max.toLocaleString('en-GB')}`
    : min !== undefined
      ? `At least ${min.toLocaleString('en-GB')}`
      : `At most ${max?.toLocaleString('en-GB')}`;

/** A choice among few, each said in words. */
export function Choice<T extends string>({
  legend,
  value,
  choices,
  onChoose,
}: {
  legend: string;
  value: T;
  choices: readonly (readonly [T, string])[];
  onChoose(value: T): void;
}) {
  // Two choices of the same words are still two.
  const name = useId();
  return (
    <fieldset className="grid gap-1">
      <legend className="mb-1 font-semibold">{legend}</legend>
      {choices.map(([v, words]) => (
        <label key={v} className="flex min-h-7 items-center gap-2">
          <input type="radio" name={name} checked={v === value} onChange={() => onChoose(v)} />
          {words}
        </label>
      ))}
    </fieldset>
  );
}

/** A switch in words. */
export function Tick({ checked, onTick, children }: { checked: boolean; onTick(checked: boolean): void; children: ReactNode }) {
  return (
    <label className="flex min-h-7 items-center gap-2">
      <input type="checkbox" checked={checked} onChange={(e) => onTick(e.currentTarget.checked)} />
      {children}
    </label>
  );
}

/** A labelled text with its own hint, and what is wrong with it. */
export function TextField({
  label,
  hint,
  error,
  onText,
  ...rest
}: InputHTMLAttributes<HTMLInputElement> & {
  label: string;
  hint?: ReactNode;
  error?: string | undefined;
  /** Takes what is typed without the spaces around it, instead of each change as it is. */
  onText?: (text: string) => void;
}) {
  const id = useId();
  const says = { id, 'aria-describedby': hint || error ? `${id}-says` : undefined, 'aria-invalid': !!error };
  return (
    <div className="grid gap-1">
      <label htmlFor={id} className="font-semibold">
        {label}
      </label>
      {onText ? (
        <TypedInput className="w-full placeholder:text-soft" {...says} {...rest} value={String(rest.value ?? '')} onValue={onText} />
      ) : (
        <input className="w-full placeholder:text-soft" {...says} {...rest} />
      )}
      {(hint || error) && (
        <p id={`${id}-says`} className={`text-[12px] leading-4 ${error ? 'text-bad' : 'text-soft'}`}>
          {error ?? hint}
        </p>
      )}
    </div>
  );
}

/** A labelled choice among many. */
export function SelectField<T extends string>({
  label,
  value,
  choices,
  onChoose,
  hideLabel,
}: {
  label: string;
  value: T;
  choices: readonly (readonly [NoInfer<T>, string])[];
  onChoose(value: T): void;
  hideLabel?: boolean;
}) {
  const id = useId();
  return (
    <div className="grid min-w-0 gap-1">
      <label htmlFor={id} className={hideLabel ? 'sr-only' : 'font-semibold'}>
        {label}
      </label>
      <select id={id} value={value} onChange={(e) => onChoose(e.currentTarget.value as T)} className="w-full min-w-0">
        {choices.map(([v, words]) => (
          <option key={v} value={v}>
            {words}
          </option>
        ))}
      </select>
    </div>
  );
}
