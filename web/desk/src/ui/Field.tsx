import { type InputHTMLAttributes, type ReactNode, useId } from 'react';

/** A labelled number that may be emptied while it is being typed. */
export function NumberField({
  label,
  value,
  onValue,
  after,
  ...rest
}: Omit<InputHTMLAttributes<HTMLInputElement>, 'value'> & {
  label: string;
  value: number;
  onValue(value: number): void;
  after?: string;
}) {
  return (
    <label className="flex items-center gap-2">
      <span>{label}</span>
      <input
        type="number"
        className="w-20"
        defaultValue={value}
        onChange={(e) => {
          const typed = e.currentTarget.valueAsNumber;
          if (Number.isFinite(typed)) onValue(Math.trunc(typed));
        }}
        {...rest}
      />
      {after && <span className="text-soft">{after}</span>}
    </label>
  );
}

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
  return (
    <fieldset className="grid gap-1">
      <legend className="mb-1 font-semibold">{legend}</legend>
      {choices.map(([v, words]) => (
        <label key={v} className="flex min-h-7 items-center gap-2">
          <input type="radio" name={legend} checked={v === value} onChange={() => onChoose(v)} />
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
  ...rest
}: InputHTMLAttributes<HTMLInputElement> & { label: string; hint?: ReactNode; error?: string | undefined }) {
  const id = useId();
  return (
    <div className="grid gap-1">
      <label htmlFor={id} className="font-semibold">
        {label}
      </label>
      <input
        id={id}
        className="w-full placeholder:text-soft"
        aria-describedby={hint || error ? `${id}-says` : undefined}
        aria-invalid={!!error}
        {...rest}
      />
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
