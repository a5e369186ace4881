import { useQuery } from '@tanstack/react-query';
import { useParams } from '@tanstack/react-router';
import { Bold, Italic, Link2, Underline } from 'lucide-react';
import { useRef } from 'react';
import { useDesk } from '../app/desk';
import { type Brief, calloutQuery } from '../callouts/api';
import { evidenceQuery } from './api';
import { DetailField } from './SayEditors';

// The neutral noun is a token of its own, in the language of whoever reads.
const FALLBACKS: Record<string, string> = { name: 'someone', first_name: 'someone' };

// A number brings its noun along, in both forms.
const written = (token: string) =>
  token === 'number'
    ? '{{ number }} {{ number | plural: one: "person", other: "people" }}'
    : FALLBACKS[token]
      ? `{{ ${token} | default: ${FALLBACKS[token]} }}`
      : `{{ ${token} }}`;

/** What tokens are worth in the real events behind the draft; empty before there are any. */
function useExamples(): Readonly<Record<string, string>> {
  const { site } = useDesk();
  const { calloutId } = useParams({ from: '/callouts/$calloutId' });
  const callout = useQuery(calloutQuery(site.id, calloutId));
  const version = callout.data?.draftVersion;
  const { data } = useQuery({ ...evidenceQuery(site.id, calloutId, version ?? 0), enabled: version !== undefined });
  return data?.examples ?? {};
}

/** The message with the tokens its sources offer; a click puts one where the cursor stands. */
export function MessageEditor({
  say,
  tokens,
  onChange,
}: {
  say: Brief['say'];
  tokens: readonly string[];
  onChange(change: Partial<Brief['say']>): void;
}) {
  const field = useRef<HTMLTextAreaElement>(null);

  const examples = useExamples();
  // A token that no real event fills would only leave a hole.
  const offered = Object.keys(examples).length > 0 ? tokens.filter((t) => examples[t]) : tokens;

  function put(before: string, after = '') {
    const area = field.current;
    if (!area) return;
    const { selectionStart: from, selectionEnd: to, value } = area;
    const chosen = value.slice(from, to);
    // The browser's own undo then knows of it too.
    area.focus();
    area.setRangeText(before + chosen + after, from, to, 'end');
    onChange({ message: area.value });
  }

  return (
    <div className="grid gap-3">
      <div className="flex gap-1">
        <Tool label="Bold" onUse={() => put('**', '**')}>
          <Bold className="h-4 w-4" />
        </Tool>
        <Tool label="Italic" onUse={() => put('*', '*')}>
          <Italic className="h-4 w-4" />
        </Tool>
        <Tool label="Underline" onUse={() => put('++', '++')}>
          <Underline className="h-4 w-4" />
        </Tool>
        <Tool label="Link" onUse={() => put('[', '](/shop)')}>
          <Link2 className="h-4 w-4" />
        </Tool>
      </div>
      <label className="grid gap-1">
        <span className="font-semibold">Message</span>
        <textarea
          ref={field}
          rows={3}
          className="w-full font-mono text-[12.5px] leading-5"
          defaultValue={say.message}
          maxLength={500}
          onChange={(e) => onChange({ message: e.currentTarget.value })}
        />
      </label>
      <div>
        <p className="mb-1 font-semibold" id="tokens">
          Put in at the cursor
        </p>
        <ul className="flex flex-wrap gap-1" aria-labelledby="tokens">
          {offered.map((token) => (
            <li key={token}>
              <button
                type="button"
                className="min-h-7 rounded border border-edge bg-sheet px-2 font-mono text-[12px] hover:bg-say"
                onClick={() => put(written(token))}
              >
                {token}
                {examples[token] && <span className="ms-1.5 font-sans text-soft">{examples[token]}</span>}
              </button>
            </li>
          ))}
        </ul>
      </div>
      <DetailField say={say} onChange={onChange} />
    </div>
  );
}

function Tool({ label, onUse, children }: { label: string; onUse(): void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onUse}
      className="grid h-8 w-8 place-items-center rounded border border-edge bg-sheet"
    >
      {children}
    </button>
  );
}
