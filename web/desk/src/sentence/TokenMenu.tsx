import { Popover } from 'radix-ui';
import { type ReactNode, useId, useState } from 'react';
import { type Part, pluralForms, tokenWords } from './language';

// The neutral noun is a token of its own, in the language of whoever reads.
const FALLBACKS: Readonly<Record<string, string>> = { name: 'someone', first_name: 'someone' };

const PEOPLE: Readonly<Record<string, string>> = { one: 'person', other: 'people' };

/** What is put in for a token: a name brings what stands for nobody, a number its noun in all forms. */
export function startPart(token: string, language: string): Part[] {
  if (token === 'number')
    return [
      { is: 'token', name: token },
      { is: 'text', text: ' ' },
      {
        is: 'plural',
        name: token,
        forms: Object.fromEntries(pluralForms(language).map(({ name }) => [name, language.startsWith('en') ? (PEOPLE[name] ?? '') : ''])),
      },
    ];
  const fallback = FALLBACKS[token];
  return [fallback ? { is: 'token', name: token, otherwise: { token: fallback } } : { is: 'token', name: token }];
}

/** The fields that can be put into a sentence, each with what it is worth in a real event; filtered while one types. */
export function TokenMenu({
  open,
  tokens,
  examples,
  onOpen,
  onPut,
  onLeave,
  children,
}: {
  open: boolean;
  tokens: readonly string[];
  examples: Readonly<Record<string, string>>;
  onOpen(open: boolean): void;
  onPut(token: string): void;
  /** Is told that nothing was chosen. */
  onLeave(): void;
  children: ReactNode;
}) {
  const list = useId();
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  const wanted = typed.trim().toLowerCase();
  const fitting = tokens.filter((t) => tokenWords(t).includes(wanted) || (examples[t] ?? '').toLowerCase().includes(wanted));
  const chosen = fitting[Math.min(at, fitting.length - 1)];
  function turn(to: boolean) {
    setTyped('');
    setAt(0);
    onOpen(to);
  }
  return (
    <Popover.Root open={open} onOpenChange={turn}>
      <Popover.Trigger asChild>{children}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          aria-label="Put in a field of the event"
          className="z-50 w-[320px] max-w-[calc(100vw-24px)] rounded border border-ink bg-sheet p-1 shadow-lg"
          onCloseAutoFocus={(event) => event.preventDefault()}
          onEscapeKeyDown={onLeave}
        >
          <input
            role="combobox"
            aria-expanded="true"
            aria-controls={list}
            aria-activedescendant={chosen ? `${list}-${chosen}` : undefined}
            aria-label="Which field"
            placeholder="Which field?"
            className="mb-1 w-full"
            value={typed}
            onChange={(e) => {
              setTyped(e.currentTarget.value);
              setAt(0);
            }}
            onKeyDown={(e) => {
              const step = e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0;
              if (step) {
                e.preventDefault();
                setAt(Math.max(0, Math.min(fitting.length - 1, at + step)));
              }
              if (e.key === 'Enter' || (e.key === 'Tab' && chosen)) {
                e.preventDefault();
                if (chosen) onPut(chosen);
              }
            }}
          />
          <div id={list} role="listbox" aria-label="Fields of the event" className="max-h-[240px] overflow-auto">
            {fitting.map((token) => (
              <div
                key={token}
                id={`${list}-${token}`}
                role="option"
                aria-selected={token === chosen}
                className={`flex min-h-8 cursor-pointer items-center gap-2 rounded px-2 ${token === chosen ? 'bg-selectwash' : 'hover:bg-sheet2'}`}
                // The keys are the field's above; a pointer chooses here.
                onMouseDown={(e) => e.preventDefault()}
                onClick={() => onPut(token)}
                onKeyDown={() => undefined}
              >
                <span className="flex-none">{tokenWords(token)}</span>
                <span className="ms-auto min-w-0 overflow-hidden text-[12px] text-ellipsis whitespace-nowrap text-soft">
                  {examples[token]}
                </span>
              </div>
            ))}
          </div>
          {fitting.length === 0 && (
            <p className="px-2 py-1 text-soft">
              {tokens.length === 0 ? 'Its sources have no fields to show.' : 'No field is called that.'}
            </p>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
