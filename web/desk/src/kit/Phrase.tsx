import type { CSSProperties, ReactNode } from 'react';

/** The facets of a brief, each with its own marker. */
export type Facet = 'say' | 'from' | 'ask' | 'promise' | 'after' | 'where' | 'who' | 'when' | 'often' | 'look';

/** The marker's colours as CSS variables. */
export const markerOf = (facet: Facet) => ({ '--mark': `var(--color-${facet})`, '--deep': `var(--color-${facet}-deep)` }) as CSSProperties;

/** A phrase that is only read. */
export function ReadPhrase({ facet, children }: { facet: Facet; children: ReactNode }) {
  return (
    <mark className="phrase" style={markerOf(facet)}>
      {children}
    </mark>
  );
}

/**
 * A marked phrase inside a sentence: the control that opens its editor.
 *
 * A span with a button's role, because a real button cannot break over two lines and sentences must.
 */
export function Phrase({
  facet,
  phraseKey,
  isOpen,
  changed,
  disabled,
  onOpen,
  children,
}: {
  facet: Facet;
  phraseKey: string;
  isOpen: boolean;
  changed: boolean;
  disabled: boolean;
  onOpen(): void;
  children: ReactNode;
}) {
  return (
    <span
      role="button"
      tabIndex={disabled ? -1 : 0}
      aria-expanded={isOpen}
      aria-disabled={disabled}
      data-phrase={phraseKey}
      className={`phrase ${disabled ? '' : 'cursor-pointer'}`}
      style={markerOf(facet)}
      onClick={() => disabled || onOpen()}
      onKeyDown={(event) => {
        if (disabled || (event.key !== 'Enter' && event.key !== ' ')) return;
        event.preventDefault();
        onOpen();
      }}
    >
      {children}
      {changed && (
        <span className="ms-1 inline-block h-[7px] w-[7px] rounded-full border border-ink bg-marigold align-super">
          <span className="sr-only">, changed since publication</span>
        </span>
      )}
    </span>
  );
}
