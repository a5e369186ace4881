import { Search } from 'lucide-react';
import { lazy, Suspense, useEffect, useState } from 'react';

const FindOrDoBox = lazy(() => import('./FindOrDoBox').then((m) => ({ default: m.FindOrDoBox })));

/** The way to anything by its name: a button, and Ctrl K (⌘ K) from anywhere. */
export function FindOrDo({ onHelp }: { onHelp(about: string): void }) {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    function press(event: KeyboardEvent) {
      if (event.key.toLowerCase() !== 'k' || !(event.ctrlKey || event.metaKey) || event.altKey || event.shiftKey) return;
      // A browser puts its own address bar there.
      event.preventDefault();
      setOpen((on) => !on);
    }
    document.addEventListener('keydown', press);
    return () => document.removeEventListener('keydown', press);
  }, []);
  return (
    <>
      <button
        type="button"
        aria-keyshortcuts="Control+K"
        onClick={() => setOpen(true)}
        className="flex h-8 flex-none items-center gap-2 rounded border border-edge px-2.5 text-soft hover:border-ink hover:text-ink max-sm:w-8 max-sm:justify-center max-sm:px-0"
      >
        <Search className="h-4 w-4 flex-none" aria-hidden="true" />
        <span className="max-lg:sr-only">Find or do</span>
        <span aria-hidden="true" className="ms-3 font-mono text-[12px] max-lg:hidden">
          Ctrl K
        </span>
      </button>
      {open && (
        <Suspense>
          <FindOrDoBox onClose={() => setOpen(false)} onHelp={onHelp} />
        </Suspense>
      )}
    </>
  );
}
