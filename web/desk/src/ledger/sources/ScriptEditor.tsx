import { useQuery } from '@tanstack/react-query';
import type { Schema } from '../../data/api';
import { CopyButton } from '../../kit/Copy';
import { TextField } from '../../kit/Field';
import { useDesk } from '../../session/desk';
import { formsQuery } from '../api';
import type { EventKind } from '../words';

export type Script = Schema<'ScriptRules'>;

export const startScript: Script = { names: [], basketSelector: '', productSelector: 'h1' };

/** What the page may report, and the line with which it does. */
export function ScriptEditor({ kind, script, onScript }: { kind: EventKind; script: Script; onScript(script: Script): void }) {
  const { site } = useDesk();
  const heard = useQuery(formsQuery(site.id)).data?.scriptNames.filter((n) => !script.names.includes(n)) ?? [];
  if (kind === 'basketAddition')
    return (
      <div className="grid gap-3">
        <TextField
          label="Buttons that put something into the basket"
          hint="A CSS selector such as button.add. Buttons marked with data-outcry-basket count anyway."
          value={script.basketSelector}
          onText={(basketSelector) => onScript({ ...script, basketSelector })}
        />
        <TextField
          label="What names the product"
          hint="A CSS selector of the element whose words are the product's name on that page."
          value={script.productSelector}
          onText={(productSelector) => onScript({ ...script, productSelector })}
        />
        <Line text={'<button data-outcry-basket="Ash-glaze mug">Add</button>'}>Or mark a button, with the product's name:</Line>
      </div>
    );
  const name = script.names[0] ?? 'firing_reminder';
  return (
    <div className="grid gap-3">
      <TextField
        label="Names that count"
        hint="With commas between. Empty takes every name the pages report."
        key={script.names.join()}
        defaultValue={script.names.join(', ')}
        onBlur={(e) =>
          onScript({
            ...script,
            names: e.currentTarget.value
              .split(',')
              .map((n) => n.trim())
              .filter(Boolean),
          })
        }
      />
      {heard.length > 0 && (
        <p className="text-[12px] leading-5">
          Heard from your pages and not listened to:{' '}
          {heard.slice(0, 8).map((n) => (
            <button
              key={n}
              type="button"
              className="me-2 font-mono text-cobalt hover:underline"
              onClick={() => onScript({ ...script, names: [...script.names, n] })}
            >
              {n}
            </button>
          ))}
        </p>
      )}
      <Line text={`(window.outcry = window.outcry || []).push(['track', '${name}', { product: 'Winter firing' }]);`}>
        The page reports one with:
      </Line>
      <p className="text-[12px] leading-4 text-soft">
        Whoever opens a browser's console can report this too. What must not be made up, purchases above all, comes signed from your server.
      </p>
    </div>
  );
}

function Line({ text, children }: { text: string; children: string }) {
  return (
    <div className="grid gap-1">
      <p>{children}</p>
      <pre tabIndex={0} className="overflow-x-auto rounded border border-edge bg-paper p-2 font-mono text-[12.5px]">
        {text}
      </pre>
      <CopyButton kind="link" text={text}>
        Copy
      </CopyButton>
    </div>
  );
}
