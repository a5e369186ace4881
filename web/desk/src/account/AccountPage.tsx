import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { Failed, Waiting } from '../kit/Notice';
import { Refused } from '../kit/Panel';
import { clock, day } from '../kit/time';
import { openAnother, sessionQuery } from '../session/api';
import { useRefusal, Wrong } from '../session/Door';
import { useDesk } from '../session/desk';
import { ROLE_WORDS } from '../session/model';
import { PasswordField } from '../session/PasswordField';
import { canPasskey, makePasskey } from '../session/passkey';
import { useTitle } from '../session/useTitle';
import { leave } from '../team/api';
import {
  type Account,
  accountQuery,
  changePassword,
  endSession,
  makeRecoveryCodes,
  removePasskey,
  rename,
  sessionsQuery,
  turnFactorOff,
} from './api';
import { RecoveryCodes } from './RecoveryCodes';
import { SecondFactor } from './SecondFactor';

/** One's own account: what it is called, how it is locked, where it is open, which workspaces it has. */
export function AccountPage() {
  useTitle('Your account');
  const account = useQuery(accountQuery);
  if (account.isError) return <Failed page="Your account" error={account.error} again={() => void account.refetch()} />;
  if (!account.data) return <Waiting page="Your account">Fetching your account</Waiting>;
  return (
    <div className="h-full overflow-auto bg-sheet">
      <h1 className="flex min-h-[52px] items-center border-b border-ink bg-paper px-4 text-[22px] leading-7">Your account</h1>
      <div className="grid max-w-[1120px] lg:grid-cols-2">
        <div className="lg:border-e lg:border-hair">
          <Name account={account.data} />
          <Password />
          <Workspaces />
        </div>
        <div>
          <Factor account={account.data} />
          <PasskeyList account={account.data} />
          <OpenSessions />
        </div>
      </div>
    </div>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="grid content-start gap-3 border-b border-hair p-4">
      <h2 className="text-[16px] leading-6">{title}</h2>
      {children}
    </section>
  );
}

function Name({ account }: { account: Account }) {
  const queries = useQueryClient();
  const refusal = useRefusal();
  return (
    <Part title="Name">
      <form
        noValidate
        className="grid max-w-[360px] gap-2"
        onSubmit={refusal.run(async (text) => {
          await rename(text('name'));
          await queries.invalidateQueries();
          say('Your name is changed.');
        })}
      >
        <TextField label="As colleagues read it" name="name" defaultValue={account.name} autoComplete="name" error={refusal.other([])} />
        <p className="text-soft">{account.email}</p>
        <p>
          <Button type="submit" disabled={refusal.busy}>
            Change the name
          </Button>
        </p>
      </form>
    </Part>
  );
}

function Password() {
  const queries = useQueryClient();
  const refusal = useRefusal();
  const [round, setRound] = useState(0);
  return (
    <Part title="Password">
      <form
        key={round}
        noValidate
        className="grid max-w-[360px] gap-2"
        onSubmit={refusal.run(async (text) => {
          await changePassword(text('current'), text('password'));
          await queries.fetchQuery({ ...sessionQuery, staleTime: 0 });
          await queries.invalidateQueries({ queryKey: ['account'] });
          setRound(round + 1);
          say('Your password is changed; every other session has ended.');
        })}
      >
        <TextField label="Now" name="current" type="password" autoComplete="current-password" error={refusal.of('current')} />
        <PasswordField label="From now on" name="password" error={refusal.of('password')} />
        <Wrong>{refusal.other(['current', 'password'])}</Wrong>
        <p>
          <Button type="submit" disabled={refusal.busy}>
            Change the password
          </Button>
        </p>
      </form>
    </Part>
  );
}

function Factor({ account }: { account: Account }) {
  const queries = useQueryClient();
  const [codes, setCodes] = useState<readonly string[]>();
  const [asked, setAsked] = useState<'codes' | 'off'>();
  const refusal = useRefusal();
  const again = async () => {
    await queries.fetchQuery({ ...sessionQuery, staleTime: 0 });
    await queries.invalidateQueries({ queryKey: ['account'] });
  };
  if (codes)
    return (
      <Part title="Second factor">
        <RecoveryCodes
          codes={codes}
          onDone={() => {
            setCodes(undefined);
            void again();
          }}
        />
      </Part>
    );
  if (!account.hasAuthenticator)
    return (
      <Part title="Second factor">
        <p>With an authenticator on your telephone, a password that somebody found opens nothing.</p>
        <SecondFactor onDone={() => void again()} />
      </Part>
    );
  return (
    <Part title="Second factor">
      <p>
        An authenticator is asked for at the door. <strong>{account.recoveryLeft}</strong> recovery codes are left
        {account.recoveryLeft < 4 && <span className="text-warn">; make new ones before they run out</span>}.
      </p>
      {asked ? (
        <form
          noValidate
          className="grid max-w-[360px] gap-2"
          onSubmit={refusal.run(async (text) => {
            if (asked === 'codes') setCodes((await makeRecoveryCodes(text('password'))).codes);
            else {
              await turnFactorOff(text('password'));
              await again();
            }
            setAsked(undefined);
          })}
        >
          <TextField
            label="Your password, once more"
            name="password"
            type="password"
            autoComplete="current-password"
            autoFocus
            error={refusal.other([])}
          />
          <p className="flex gap-2">
            <Button type="submit" kind={asked === 'off' ? 'danger' : 'primary'} disabled={refusal.busy}>
              {asked === 'off' ? 'Take it away' : 'Make new codes'}
            </Button>
            <Button onClick={() => setAsked(undefined)}>Cancel</Button>
          </p>
        </form>
      ) : (
        <p className="flex flex-wrap gap-2">
          <Button onClick={() => setAsked('codes')}>New recovery codes</Button>
          <Button kind="danger" onClick={() => setAsked('off')}>
            Take the authenticator away
          </Button>
        </p>
      )}
    </Part>
  );
}

function PasskeyList({ account }: { account: Account }) {
  const queries = useQueryClient();
  const refusal = useRefusal();
  const [adding, setAdding] = useState(false);
  const again = () => queries.invalidateQueries({ queryKey: ['account'] });
  const remove = useMutation({ mutationFn: removePasskey, onSuccess: again });
  return (
    <Part title="Passkeys">
      <p>Your device opens the door itself, by your finger, face or its own number: no password, and a second factor at once.</p>
      {account.passkeys.length > 0 && (
        <ul className="grid">
          {account.passkeys.map((key) => (
            <li key={key.id} className="flex min-h-9 items-center gap-3 border-t border-hair">
              <span className="min-w-0 flex-1">{key.name}</span>
              <span className="text-soft">since {day(key.madeAt)}</span>
              <Button kind="link" aria-label={`Take away the passkey ${key.name}`} onClick={() => remove.mutate(key.id)}>
                Take away
              </Button>
            </li>
          ))}
        </ul>
      )}
      <Refused error={remove.error} />
      {!canPasskey() ? (
        <p className="text-soft">This browser makes none, or the desk is not reached by https.</p>
      ) : adding ? (
        <form
          noValidate
          className="grid max-w-[360px] gap-2"
          onSubmit={refusal.run(async (text) => {
            await makePasskey(text('name'), text('password'));
            setAdding(false);
            await again();
          })}
        >
          <TextField label="What you call this device" name="name" placeholder="Work laptop" autoFocus error={refusal.of('name')} />
          <TextField
            label="Your password, once more"
            name="password"
            type="password"
            autoComplete="current-password"
            error={refusal.of('current')}
          />
          <Wrong>{refusal.other(['name', 'current'])}</Wrong>
          <p className="flex gap-2">
            <Button type="submit" kind="primary" disabled={refusal.busy}>
              Make the passkey
            </Button>
            <Button onClick={() => setAdding(false)}>Cancel</Button>
          </p>
        </form>
      ) : (
        <p>
          <Button onClick={() => setAdding(true)}>Add a passkey</Button>
        </p>
      )}
    </Part>
  );
}

function OpenSessions() {
  const queries = useQueryClient();
  const sessions = useQuery(sessionsQuery);
  const end = useMutation({ mutationFn: endSession, onSuccess: () => queries.invalidateQueries({ queryKey: ['account', 'sessions'] }) });
  return (
    <Part title="Where you are signed in">
      <ul className="grid">
        {sessions.data?.map((s) => (
          <li key={s.id} className="flex min-h-9 items-center gap-3 border-t border-hair first:border-t-0">
            <span className="min-w-0 flex-1">
              {s.device || 'a browser'}
              {s.hadFactor && <span className="text-soft">, with a second factor</span>}
            </span>
            <span className="text-soft">
              last {day(s.seenAt)}, {clock(s.seenAt)}
            </span>
            {s.isThis ? (
              <span className="w-16 text-end font-semibold">here</span>
            ) : (
              <Button
                kind="link"
                className="w-16 !justify-end"
                aria-label={`End the session on ${s.device}`}
                onClick={() => end.mutate(s.id)}
              >
                End it
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Refused error={end.error ?? sessions.error} />
    </Part>
  );
}

function Workspaces() {
  const { member, workspace, site } = useDesk();
  const [asked, setAsked] = useState<'new' | string>();
  const refusal = useRefusal();
  const go = useMutation({ mutationFn: leave, onSuccess: () => location.assign('/') });
  return (
    <Part title="Workspaces">
      <ul className="grid">
        {member.workspaces.map((w) => (
          <li key={w.id} className="grid border-t border-hair py-1 first:border-t-0">
            <span className="flex min-h-8 items-center gap-3">
              <span className="min-w-0 flex-1">
                {w.name} <span className="text-soft">{ROLE_WORDS[w.role].toLowerCase()}</span>
                {w.id === workspace.id && <span className="text-soft">, where you are</span>}
              </span>
              <Button kind="link" aria-label={`Leave ${w.name}`} onClick={() => setAsked(w.id)}>
                Leave
              </Button>
            </span>
            {asked === w.id && (
              <span className="flex flex-wrap items-center gap-2 pb-2">
                Your work stays there; to come back you need an invitation.
                <Button kind="danger" onClick={() => go.mutate(w.id)} disabled={go.isPending}>
                  Leave {w.name}
                </Button>
                <Button onClick={() => setAsked(undefined)}>Cancel</Button>
              </span>
            )}
          </li>
        ))}
      </ul>
      <Refused error={go.error} />
      {asked === 'new' ? (
        <form
          noValidate
          className="grid max-w-[360px] gap-2"
          onSubmit={refusal.run(async (text) => {
            const made = await openAnother({
              workspace: text('workspace'),
              homeAddress: text('homeAddress').includes('://') ? text('homeAddress') : `https://${text('homeAddress')}`,
              timeZone: site.timeZone,
              language: site.language,
            });
            location.assign(`/s/${made.key}/`);
          })}
        >
          <TextField label="Company" name="workspace" autoFocus error={refusal.of('workspace')} />
          <TextField label="Site" name="homeAddress" placeholder="shop.example" error={refusal.of('homeAddress')} />
          <Wrong>{refusal.other(['workspace', 'homeAddress'])}</Wrong>
          <p className="flex gap-2">
            <Button type="submit" kind="primary" disabled={refusal.busy}>
              Open it
            </Button>
            <Button onClick={() => setAsked(undefined)}>Cancel</Button>
          </p>
        </form>
      ) : (
        <p>
          <Button onClick={() => setAsked('new')}>Open another workspace</Button>
        </p>
      )}
    </Part>
  );
}
