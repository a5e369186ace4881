import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useDesk } from '../app/desk';
import { type Source, sourcesQuery } from '../callouts/api';
import { ago } from '../lib/time';
import { useNow } from '../lib/useNow';
import { Button } from '../ui/Button';

/** The sources with their health; one opened says where its events come in and what of them is taken. */
export function SourcesPanel({ chosen, onChoose }: { chosen: string | undefined; onChoose(source: string | undefined): void }) {
  const { site } = useDesk();
  const { data: sources } = useQuery(sourcesQuery(site.id));
  const now = useNow(5000);
  return (
    <aside aria-label="Sources" className="w-[212px] flex-none overflow-auto border-e border-ink max-lg:hidden">
      <h2 className="border-b border-hair px-4 py-2 text-[15px]">Sources</h2>
      <ul>
        {sources?.map((source) => {
          const isChosen = source.id === chosen;
          return (
            <li key={source.id} className={`border-b border-hair ${isChosen ? 'bg-selectwash' : ''}`}>
              <button
                type="button"
                aria-pressed={isChosen}
                onClick={() => onChoose(isChosen ? undefined : source.id)}
                className="block w-full px-4 py-2.5 text-start"
              >
                <span className="block font-semibold">{source.name}</span>
                <span className="block text-[12px] leading-4 text-soft">
                  {source.kind === 'signedWebhook' ? 'signed webhook' : 'site form'}
                </span>
                <span className="block text-[12px] leading-4">
                  {source.lastEventAt ? `${ago(source.lastEventAt, now)}, ${source.eventsLastDay} in 24 h` : 'nothing yet'}
                </span>
              </button>
              {isChosen && <SourceDetail source={source} now={now} />}
            </li>
          );
        })}
      </ul>
    </aside>
  );
}

function SourceDetail({ source, now }: { source: Source; now: number }) {
  return (
    <div className="grid gap-2 px-4 pb-3 text-[12px] leading-4">
      {source.refusedAt && (
        <p className="text-warn">
          Last refused {ago(source.refusedAt, now)}: {source.refusedBecause}
        </p>
      )}
      {source.address && (
        <>
          <p>Post CloudEvents JSON, signed as Standard Webhooks, to:</p>
          <code className="font-mono break-all">{source.address}</code>
        </>
      )}
      {source.secret && <Secret secret={source.secret} />}
      {source.form && (
        <p>
          Captures the form <code className="font-mono">{source.form.form}</code>
          {source.form.pages.length > 0 && ` on ${source.form.pages.join(', ')}`}; of it leave the page only:{' '}
          {[source.form.firstName, source.form.lastName, source.form.email, source.form.product, ...source.form.fields]
            .filter(Boolean)
            .join(', ')}
          .
        </p>
      )}
    </div>
  );
}

function Secret({ secret }: { secret: string }) {
  const [shown, setShown] = useState(false);
  return shown ? (
    <code className="font-mono break-all">{secret}</code>
  ) : (
    <p>
      <Button kind="link" onClick={() => setShown(true)}>
        Show the secret
      </Button>
    </p>
  );
}
