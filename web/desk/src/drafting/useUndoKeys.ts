import { useEffect, useRef } from 'react';
import { isTyping } from '../kit/keys';

/** Ctrl Z and Ctrl Shift Z (or Ctrl Y) step through a draft, wherever on its page one is. */
export function useUndoKeys({ undo, redo, mayEdit }: { undo(): void; redo(): void; mayEdit: boolean }) {
  // On the document: after a step back the field one was in may be gone, and the next step must still be heard.
  const keys = useRef<(event: KeyboardEvent) => void>(undefined);
  keys.current = (event) => {
    if (!(event.ctrlKey || event.metaKey) || event.altKey || !mayEdit) return;
    const key = event.key.toLowerCase();
    if (key !== 'z' && key !== 'y') return;
    // A field that is no part of the draft keeps its own way back; in the brief what is undone is the draft, which the fields show.
    if (event.defaultPrevented || (isTyping(event.target) && !(event.target as Element).closest('[data-draft]'))) return;
    event.preventDefault();
    if (key === 'y' || event.shiftKey) redo();
    else undo();
  };
  useEffect(() => {
    const listen = (event: KeyboardEvent) => keys.current?.(event);
    document.addEventListener('keydown', listen);
    return () => document.removeEventListener('keydown', listen);
  }, []);
}
