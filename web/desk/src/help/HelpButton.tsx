import { CircleHelp } from 'lucide-react';
import { useEffect } from 'react';
import { isTyping } from '../kit/keys';

/** The way to the guide: a button, and "?" from anywhere that is not typed in. */
export function HelpButton({ open, onOpen }: { open: boolean; onOpen(open: boolean): void }) {
  useEffect(() => {
    function press(event: KeyboardEvent) {
      if (event.key !== '?' || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      event.preventDefault();
      onOpen(!open);
    }
    document.addEventListener('keydown', press);
    return () => document.removeEventListener('keydown', press);
  }, [open, onOpen]);
  return (
    <button
      type="button"
      aria-label="Help"
      aria-keyshortcuts="?"
      aria-expanded={open}
      title="Help (?)"
      onClick={() => onOpen(!open)}
      className="grid h-8 w-8 flex-none place-items-center rounded border border-edge text-soft hover:border-ink hover:text-ink"
    >
      <CircleHelp className="h-4 w-4" aria-hidden="true" />
    </button>
  );
}
