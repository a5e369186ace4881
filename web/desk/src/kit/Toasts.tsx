import { X } from 'lucide-react';
import { Toast } from 'radix-ui';
import { dismiss, useToasts } from '../data/toasts';

/** Long enough to read it and to reach its act; the pointer or the focus holds it. */
const STAYS_MS = 10_000;

/** What is said in passing, above the strip. Read aloud; reached with F8. */
export function Toasts() {
  const toasts = useToasts();
  return (
    <Toast.Provider swipeDirection="right" duration={STAYS_MS}>
      {toasts.map((toast) => (
        <Toast.Root
          key={toast.id}
          type={toast.isBad ? 'foreground' : 'background'}
          onOpenChange={(open) => !open && dismiss(toast.id)}
          className={`flex items-start gap-3 rounded border border-ink bg-sheet p-3 shadow-lg ${toast.isBad ? 'border-s-4 !border-s-bad' : 'border-s-4 !border-s-good'}`}
        >
          <Toast.Description className="min-w-0 flex-1">{toast.words}</Toast.Description>
          {toast.act && (
            <Toast.Action altText={toast.act.words} asChild>
              <button type="button" className="font-semibold whitespace-nowrap text-cobalt hover:underline" onClick={toast.act.run}>
                {toast.act.words}
              </button>
            </Toast.Action>
          )}
          <Toast.Close aria-label="Close this message" className="grid h-5 w-5 place-items-center rounded hover:bg-sheet2">
            <X className="h-4 w-4" />
          </Toast.Close>
        </Toast.Root>
      ))}
      <Toast.Viewport className="fixed end-4 bottom-12 z-[60] grid w-[360px] max-w-[calc(100vw-32px)] gap-2" />
    </Toast.Provider>
  );
}
