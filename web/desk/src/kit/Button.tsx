import type { ButtonHTMLAttributes } from 'react';

const KINDS = {
  primary: 'bg-ink text-white border-ink hover:bg-[#2b3040]',
  plain: 'bg-sheet text-ink border-ink hover:bg-sheet2',
  danger: 'bg-sheet text-bad border-bad hover:bg-badwash',
  link: 'border-transparent text-cobalt !px-0 hover:underline font-medium',
};

/** A button, 32 px high; on phones 44 px, as fingers need. */
export function Button({
  kind = 'plain',
  className = '',
  type = 'button',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: keyof typeof KINDS }) {
  return (
    <button
      type={type}
      className={`inline-flex min-h-8 items-center justify-center gap-2 whitespace-nowrap rounded border px-3 font-semibold max-sm:min-h-11 disabled:opacity-60 ${KINDS[kind]} ${className}`}
      {...rest}
    />
  );
}
