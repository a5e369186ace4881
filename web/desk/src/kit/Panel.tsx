import { X } from 'lucide-react';
import { type ReactNode, useEffect, useId, useRef } from 'react';
import { isTyping } from './keys';

/** A side sheet beside the list it belongs to; on narrow screens it lies over it. */
export function Panel({
  label,
  title,
  wide,
  onClose,
  foot,
  children,
}: {
  label: string;
  title: ReactNode;
  wide?: boolean;
  onClose(): void;
  foot?: ReactNode;
  children: ReactNode;
}) {
  const sheet = useRef<HTMLElement>(null);
  const heading = useId();
  useEffect(() => {
    const before = document.activeElement as HTMLElement | null;
    const own = sheet.current;
    // What the sheet itself has taken the cursor to, as a first field, keeps it.
    if (own && !own.contains(before)) own.focus({ preventScroll: true });
    return () => {
      // Back to where one came from, unless one has gone elsewhere meanwhile.
      const at = document.activeElement;
      if (before?.isConnected && (at === null || at === document.body || own?.contains(at))) before.focus({ preventScroll: true });
    };
  }, []);
  return (
    <aside
      ref={sheet}
      tabIndex={-1}
      aria-label={label}
      aria-describedby={heading}
      className={`relative flex outline-none flex-none flex-col border-s-2 border-cobalt bg-sheet max-lg:absolute max-lg:inset-y-0 max-lg:end-0 max-lg:z-20 max-lg:max-w-full max-lg:shadow-lg ${wide ? 'w-[480px]' : 'w-[316px]'}`}
      onKeyDown={(event) => {
        // Within a field Escape is about the field; what is typed there must not go with the sheet.
        if (event.key === 'Escape' && !event.defaultPrevented && !isTyping(event.target)) onClose();
      }}
    >
      <div className="flex min-h-12 flex-none items-start gap-2 border-b border-hair py-3 ps-4 pe-12">
        <h2 id={heading} className="text-[16px] leading-6">
          {title}
        </h2>
      </div>
      <button
        type="button"
        onClick={onClose}
        aria-label="Close this panel"
        className="absolute end-2 top-2 grid h-8 w-8 place-items-center rounded hover:bg-sheet2"
      >
        <X className="h-4 w-4" />
      </button>
      <div className="min-h-0 flex-1 overflow-auto" role="region" aria-label={`${label}, its content`} tabIndex={0}>
        {children}
      </div>
      {foot && <div className="flex flex-none flex-wrap items-center gap-2 border-t border-ink p-3">{foot}</div>}
    </aside>
  );
}

/** A block of a panel under a heading of its own. */
export function Section({ title, children, quiet }: { title?: ReactNode; children: ReactNode; quiet?: boolean }) {
  return (
    <section className={`grid grid-cols-[minmax(0,1fr)] gap-3 border-b border-hair p-4 ${quiet ? 'bg-sheet2' : ''}`}>
      {title && <h3 className="font-sans text-[13px] font-semibold tracking-normal">{title}</h3>}
      {children}
    </section>
  );
}

/** A refusal in its own words, beside what it is about. */
export function Refused({ error }: { error: unknown }) {
  if (!error) return null;
  return (
    <p role="alert" className="text-bad">
      {error instanceof Error ? error.message : 'That did not work. Try again.'}
    </p>
  );
}
