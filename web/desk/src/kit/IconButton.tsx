import type { ReactNode } from 'react';

/** A button that is a sign; its words are read out and told on pointing at it. */
export function IconButton({
  label,
  hint,
  disabled,
  onClick,
  children,
}: {
  label: string;
  hint: string;
  disabled: boolean;
  onClick(): void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={`${label} (${hint})`}
      disabled={disabled}
      onClick={onClick}
      className="grid h-8 w-8 place-items-center rounded hover:bg-hair disabled:opacity-40"
    >
      {children}
    </button>
  );
}
