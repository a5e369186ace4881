import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { Failed, Waiting } from '../kit/Notice';
import { day } from '../kit/time';
import { acceptInvitation, lookAtInvitation, resetPassword, sessionQuery } from './api';
import { Door, useRefusal, Wrong } from './Door';
import { ROLE_WORDS } from './model';
import { PasswordField } from './PasswordField';
import { SignIn } from './SignIn';

/** What a mailed link opens: an invitation, or a new password. Its secret stands behind "#", where no server's log keeps it. */
export function Join() {
  const [secret] = useState(() => location.hash.slice(1));
  const session = useQuery(sessionQuery);
  const look = useQuery({
    queryKey: ['invitation', secret],
    queryFn: () => lookAtInvitation(secret),
    enabled: session.isSuccess,
    retry: false,
  });
  const refusal = useRefusal();
  if (look.isError)
    return (
      <Door title="Outcry">
        <Failed error={look.error} />
      </Door>
    );
  if (!look.data) return <Waiting page="Outcry">Reading the invitation</Waiting>;
  const { workspace, email, role, invitedBy, endsAt, hasAccount, isSignedIn } = look.data;
  if (hasAccount && !isSignedIn)
    return (
      <>
        <p className="bg-goldwash p-3 text-center">
          {invitedBy} asks {email} to join {workspace}. That address has an account: sign in with it to join.
        </p>
        <SignIn mayRegister={false} />
      </>
    );
  return (
    <Door
      title={`Join ${workspace}`}
      words={`${invitedBy} asks you to work with them as ${ROLE_WORDS[role].toLowerCase()}. The invitation is for ${email} and holds until ${day(endsAt)}.`}
    >
      <form
        noValidate
        className="grid gap-4"
        onSubmit={refusal.run(async (text) => {
          await acceptInvitation({ secret, name: text('name'), password: text('password') });
          location.assign('/');
        })}
      >
        {!hasAccount && (
          <>
            <TextField
              label="Your name"
              name="name"
              autoComplete="name"
              autoFocus
              error={refusal.of('name')}
              hint="As colleagues will read it."
            />
            <PasswordField label="Password" name="password" error={refusal.of('password')} />
          </>
        )}
        <Wrong>{refusal.other(['name', 'password'])}</Wrong>
        <Button kind="primary" type="submit" disabled={refusal.busy}>
          Join {workspace}
        </Button>
      </form>
    </Door>
  );
}

export function Reset() {
  const [link] = useState(() => location.hash.slice(1));
  const [done, setDone] = useState(false);
  const session = useQuery(sessionQuery);
  const refusal = useRefusal();
  return (
    <Door title="A new password" words={done ? undefined : 'Choose it. Every session of your account ends with the old one.'}>
      {done ? (
        <>
          <p role="status">It holds from now on. Sign in with it.</p>
          <Button kind="primary" onClick={() => location.assign('/')}>
            To the door
          </Button>
        </>
      ) : (
        <form
          noValidate
          className="grid gap-4"
          onSubmit={refusal.run(async (text) => {
            await resetPassword(link, text('password'));
            setDone(true);
          })}
        >
          <PasswordField label="New password" name="password" error={refusal.of('password')} />
          <Wrong>{refusal.other(['password'])}</Wrong>
          <Button kind="primary" type="submit" disabled={refusal.busy || !session.isSuccess}>
            Take this password
          </Button>
        </form>
      )}
    </Door>
  );
}
