import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { CopyButton } from '../kit/Copy';
import { TextField, Tick } from '../kit/Field';
import { Failed, Waiting } from '../kit/Notice';
import { Panel, Refused, Section } from '../kit/Panel';
import { clock, day } from '../kit/time';
import { useDesk } from '../session/desk';
import { addWebhook, changeWebhook, removeWebhook, sendAgain, testWebhook, type Webhook, webhooksQuery } from './api';

const WORDS: Record<Webhook['words'][number], string> = {
  new: 'who said yes',
  confirmed: 'who may be written to',
  withdrawn: 'who took it back',
  reached: 'steps of follow-ups that name it',
};

const ALL = Object.keys(WORDS) as Webhook['words'];

/** Addresses that are told of leads, and what became of each message. */
export function WebhooksPanel({ onClose }: { onClose(): void }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const hooks = useQuery(webhooksQuery(site.id));
  const again = () => void queries.invalidateQueries({ queryKey: ['webhooks'] });
  const act = useMutation({ mutationFn: (run: () => Promise<unknown>) => run(), onSuccess: again });
  const [name, setName] = useState('');
  const [address, setAddress] = useState('');
  const [words, setWords] = useState<Webhook['words']>(ALL);
  const add = useMutation({
    mutationFn: () => addWebhook(site.id, { name, address, words }),
    onSuccess: () => {
      setName('');
      setAddress('');
      again();
    },
  });
  return (
    <Panel label="Webhooks" title="Webhooks" onClose={onClose}>
      {hooks.isError ? (
        <Failed error={hooks.error} again={() => void hooks.refetch()} />
      ) : !hooks.data ? (
        <Waiting>Fetching the webhooks</Waiting>
      ) : (
        <>
          {hooks.data.map((hook) => (
            <Section key={hook.id} title={hook.name}>
              <p className="font-mono text-[12px] [overflow-wrap:anywhere]">{hook.address}</p>
              <p className="text-soft">Told {hook.words.map((w) => WORDS[w]).join(', ')}.</p>
              {hook.offBecause && (
                <p className="text-bad">
                  Told nothing: {hook.offBecause}{' '}
                  <Button
                    kind="link"
                    onClick={() =>
                      act.mutate(() => changeWebhook(site.id, hook.id, { name: hook.name, address: hook.address, words: hook.words }))
                    }
                  >
                    Tell it again
                  </Button>
                </p>
              )}
              <p className="flex items-center gap-2 text-[12px]">
                <span className="text-soft">Secret</span>
                <code className="min-w-0 flex-1 truncate font-mono">{hook.secret}</code>
                <CopyButton kind="link" text={hook.secret}>
                  Copy the secret
                </CopyButton>
              </p>
              <div className="flex flex-wrap gap-2">
                <Button
                  disabled={act.isPending}
                  onClick={() =>
                    act.mutate(async () => {
                      await testWebhook(site.id, hook.id);
                      say('A test is on its way. What becomes of it stands below.');
                    })
                  }
                >
                  Send a test
                </Button>
                <Button disabled={act.isPending} onClick={() => act.mutate(() => removeWebhook(site.id, hook.id))}>
                  Remove
                </Button>
              </div>
              {hook.messages.length > 0 && (
                <ul className="max-h-72 overflow-auto" tabIndex={0} aria-label={`Messages to ${hook.name}`}>
                  {hook.messages.map((message) => (
                    <li key={message.id} className="border-t border-hair py-1">
                      <details>
                        <summary className="cursor-pointer">
                          {WORDS[message.word]}, {day(message.madeAt)}, {clock(message.madeAt)}:{' '}
                          <b className={message.takenAt ? '' : message.nextAt ? 'text-warn' : 'text-bad'}>
                            {message.takenAt
                              ? 'taken'
                              : message.nextAt
                                ? message.tries === 0
                                  ? 'on its way'
                                  : `tried ${message.tries} times, again ${clock(message.nextAt)}`
                                : 'given up'}
                          </b>
                        </summary>
                        <p className="text-[12px] text-soft [overflow-wrap:anywhere]">
                          {message.status !== null && `Answered ${message.status}. `}
                          {message.says}
                        </p>
                        <pre className="overflow-auto bg-sheet2 p-2 font-mono text-[12px]" tabIndex={0}>
                          {message.body}
                        </pre>
                        <Button
                          kind="link"
                          disabled={act.isPending}
                          onClick={() => act.mutate(() => sendAgain(site.id, hook.id, message.id))}
                        >
                          Send it again
                        </Button>
                      </details>
                    </li>
                  ))}
                </ul>
              )}
            </Section>
          ))}
          <Section title="Add a webhook">
            <form
              className="grid gap-2"
              onSubmit={(e) => {
                e.preventDefault();
                add.mutate();
              }}
            >
              <TextField label="Name" value={name} maxLength={80} onChange={(e) => setName(e.currentTarget.value)} />
              <TextField
                label="Address"
                placeholder="https://"
                value={address}
                maxLength={1000}
                onChange={(e) => setAddress(e.currentTarget.value)}
              />
              <fieldset className="grid gap-1">
                <legend className="font-semibold">Tell it</legend>
                {ALL.map((word) => (
                  <Tick
                    key={word}
                    checked={words.includes(word)}
                    onTick={(on) => setWords(on ? [...words, word] : words.filter((w) => w !== word))}
                  >
                    {WORDS[word]}
                  </Tick>
                ))}
              </fieldset>
              <span>
                <Button type="submit" disabled={!name.trim() || !address.trim() || words.length === 0 || add.isPending}>
                  Add webhook
                </Button>
              </span>
              <Refused error={add.error ?? act.error} />
            </form>
          </Section>
        </>
      )}
    </Panel>
  );
}
