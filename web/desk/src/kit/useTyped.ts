import { useState } from 'react';

/**
 * Lets a text be typed freely while what it is read as is kept elsewhere.
 *
 * What is typed shows as typed, a trailing space too, for as long as what is kept is what was made of it;
 * when that changes from elsewhere, by a step back or by a colleague, the field shows the new text.
 *
 * @param kept - The text that is kept.
 * @param read - What is kept of a typed text.
 */
export function useTyped(kept: string, read: (typed: string) => string = (typed) => typed) {
  const [typed, setTyped] = useState<{ text: string; keptAs: string }>();
  return {
    text: typed?.keptAs === kept ? typed.text : kept,
    /** Takes a key; gives what is to be kept. */
    type(text: string) {
      const keptAs = read(text);
      setTyped({ text, keptAs });
      return keptAs;
    },
    /** The field was left: from now on it shows what is kept. */
    leave: () => setTyped(undefined),
  };
}

/** Without the spaces around it. */
export const trimmed = (typed: string) => typed.trim();
