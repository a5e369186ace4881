import type { InputHTMLAttributes, ReactNode } from 'react';

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
