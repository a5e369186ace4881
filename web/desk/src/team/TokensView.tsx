import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { Code } from '../kit/Copy';
import { TextField, Tick } from '../kit/Field';
import { Failed, Waiting } from '../kit/Notice';
import { Refused } from '../kit/Panel';
import { day } from '../kit/time';
import { useRefusal, Wrong } from '../session/Door';
import { useDesk } from '../session/desk';
import { endToken, makeToken, type TokenScope, tokensQuery } from './api';

const SCOPES: readonly (readonly [TokenScope, string])[] = [
  ['read', 'read what a viewer sees'],
  ['events', 'enter events'],
  ['leads', 'read leads, with whole names and addresses'],
];

const wordsOf = (scope: TokenScope) => SCOPES.find(([s]) => s === scope)?.[1] ?? scope;

/** Keys for machines: named, with scopes, shown once, ended at any time. */
export function TokensView() {
  const { workspace } = useDesk();
  const queries = useQueryClient();
  const tokens = useQuery(tokensQuery(workspace.id));
  const [scopes, setScopes] = useState<readonly TokenScope[]>(['read']);
  const [made, setMade] = useState<string>();
  const refusal = useRefusal();
  const again = () => queries.invalidateQueries({ queryKey: ['team', workspace.id, 'tokens'] });
  const end = useMutation({ mutationFn: (id: string) => endToken(workspace.id, id), onSuccess: again });
  if (tokens.isError) return <Failed error={tokens.error} again={() => void tokens.refetch()} />;
  if (!tokens.data) return <Waiting>Fetching the tokens</Waiting>;
  return (
    <section aria-label="Tokens" className="grid max-w-[760px] content-start gap-4 p-4">
      <p className="font-display text-[16px] leading-[26px]">
        A token lets a program of yours in without a person: for a report at night, or for events that no source brings.
      </p>
      {tokens.data.length > 0 && (
        <ul>
          {tokens.data.map((t) => (
            <li key={t.id} className="flex flex-wrap items-center gap-x-4 border-t border-hair py-2">
              <span className="min-w-40 flex-1">
                <strong>{t.name}</strong> <code className="font-mono text-[12px] text-soft">{t.begins}…</code>
                <span className="block text-[12px] leading-4 text-soft">
                  may {t.scopes.map(wordsOf).join(', ')}; made by {t.madeBy} on {day(t.madeAt)}
                </span>
              </span>
              <span className="text-soft">{t.usedAt ? `last used ${day(t.usedAt)}` : 'never used'}</span>
              <Button kind="danger" aria-label={`End the token ${t.name}`} onClick={() => end.mutate(t.id)} disabled={end.isPending}>
                End it
              </Button>
            </li>
          ))}
        </ul>
      )}
      <Refused error={end.error} />
      {made ? (
        <div className="grid gap-2 border-s-4 border-marigold bg-goldwash p-3">
          <p role="status" className="font-semibold">
            This is the token. It is shown this once; keep it where your program finds it.
          </p>
          <Code copy={made}>{made}</Code>
          <p>
            <Button kind="primary" onClick={() => setMade(undefined)}>
              I have kept it
            </Button>
          </p>
        </div>
      ) : (
        <form
          noValidate
          className="grid max-w-[420px] gap-3 border-t border-ink pt-4"
          onSubmit={refusal.run(async (text) => {
            setMade((await makeToken(workspace.id, text('name'), [...scopes])).token);
            await again();
          })}
        >
          <TextField label="What it is for" name="name" placeholder="Nightly report" error={refusal.of('name')} />
          <fieldset className="grid">
            <legend className="mb-1 font-semibold">What it may do</legend>
            {SCOPES.map(([scope, words]) => (
              <Tick
                key={scope}
                checked={scopes.includes(scope)}
                onTick={(on) => setScopes(on ? [...scopes, scope] : scopes.filter((s) => s !== scope))}
              >
                {words}
              </Tick>
            ))}
            <Wrong>{refusal.of('scopes')}</Wrong>
          </fieldset>
          <Wrong>{refusal.other(['name', 'scopes'])}</Wrong>
          <p>
            <Button type="submit" kind="primary" disabled={refusal.busy}>
              Make a token
            </Button>
          </p>
        </form>
      )}
    </section>
  );
}
