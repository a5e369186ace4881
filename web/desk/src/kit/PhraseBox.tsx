import { type ReactNode, useEffect, useRef } from 'react';

/** The control behind a phrase, in place under its sentence. Escape closes it. */
export function PhraseBox({ label, onClose, children }: { label: string; onClose(): void; children: ReactNode }) {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    box.current?.scrollIntoView({ block: 'nearest' });
    box.current?.querySelector<HTMLElement>('textarea, input, select, button')?.focus({ preventScroll: true });
  }, []);
  return (
    <div
      ref={box}
      role="group"
      aria-label={`Change: ${label}`}
      className="my-2 rounded border border-cobalt bg-sheet2 p-3"
      onKeyDown={(event) => {
        if (event.key === 'Escape') {
          event.stopPropagation();
          onClose();
        }
      }}
    >
      {children}
      <p className="mt-3 flex justify-end border-t border-hair pt-2">
        <button type="button" onClick={onClose} className="min-h-8 font-semibold text-cobalt hover:underline">
          Done
        </button>
      </p>
    </div>
  );
}
