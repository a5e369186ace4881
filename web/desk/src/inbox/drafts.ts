import { useState } from 'react';

const KEY = 'outcry-answers';

function read(): Record<string, string> {
  try {
    return JSON.parse(sessionStorage.getItem(KEY) ?? '{}') as Record<string, string>;
  } catch {
    return {};
  }
}

/** What is typed in a talk and not sent: it waits there while one looks into another, and over a reload. */
export function useWords(talkId: string): [string, (words: string) => void] {
  const [words, setWords] = useState(() => read()[talkId] ?? '');
  return [
    words,
    (next) => {
      setWords(next);
      const { [talkId]: _, ...rest } = read();
      try {
        sessionStorage.setItem(KEY, JSON.stringify(next ? { ...rest, [talkId]: next } : rest));
      } catch {
        // Kept on the screen only.
      }
    },
  ];
}
