import { useState } from 'react';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { askForReset, register, signIn, signInSecond } from './api';
import { Door, useRefusal, Wrong } from './Door';
import { canPasskey, signInByPasskey } from './passkey';

type Step = { at: 'password' } | { at: 'code'; ticket: string } | { at: 'forgotten' } | { at: 'register' } | { at: 'sent'; words: string };

/** The door. After signing in the page is loaded anew, so that its security headers fit the member. */
export function SignIn({ mayRegister }: { mayRegister: boolean }) {
  const [step, setStep] = useState<Step>({ at: 'password' });
  const back = () => setStep({ at: 'password' });
  switch (step.at) {
    case 'password':
      return <Password mayRegister={mayRegister} onStep={setStep} />;
    case 'code':
      return <Code ticket={step.ticket} onBack={back} />;
    case 'forgotten':
      return <Forgotten onSent={(words) => setStep({ at: 'sent', words })} onBack={back} />;
    case 'register':
      return <Register onSent={(words) => setStep({ at: 'sent', words })} onBack={back} />;
    default:
      return (
        <Door title="Outcry">
          <p role="status">{step.words}</p>
          <Button onClick={back}>Back to signing in</Button>
        </Door>
      );
  }
}

// Where one wanted to go is still in the address.
const goIn = () => location.reload();

function Password({ mayRegister, onStep }: { mayRegister: boolean; onStep(step: Step): void }) {
  const refusal = useRefusal();
  const passkey = useRefusal();
  return (
    <Door title="Outcry" words="Sign in to the desk from which your site speaks.">
      <form
        className="grid gap-4"
        onSubmit={refusal.run(async (text) => {
          const { ticket } = await signIn(text('email'), text('password'));
          if (ticket) onStep({ at: 'code', ticket });
          else goIn();
        })}
      >
        <label className="grid gap-1">
          E-mail
          <input name="email" type="email" autoComplete="username" required />
        </label>
        <label className="grid gap-1">
          Password
          <input name="password" type="password" autoComplete="current-password" required />
        </label>
        <Wrong>{refusal.other([])}</Wrong>
        <Button kind="primary" type="submit" disabled={refusal.busy}>
          {refusal.busy ? 'Signing in' : 'Sign in'}
        </Button>
      </form>
      {canPasskey() && (
        <form
          className="grid gap-2"
          onSubmit={passkey.run(async () => {
            await signInByPasskey();
            goIn();
          })}
        >
          <Button type="submit" disabled={passkey.busy}>
            Sign in with a passkey
          </Button>
          <Wrong>{passkey.other([])}</Wrong>
        </form>
      )}
      <p className="flex flex-wrap gap-x-4">
        <Button kind="link" onClick={() => onStep({ at: 'forgotten' })}>
          Forgotten your password?
        </Button>
        {mayRegister && (
          <Button kind="link" onClick={() => onStep({ at: 'register' })}>
            Open a workspace
          </Button>
        )}
      </p>
    </Door>
  );
}

function Code({ ticket, onBack }: { ticket: string; onBack(): void }) {
  const refusal = useRefusal();
  return (
    <Door title="One more step" words="Type the six digits that your authenticator shows now.">
      <form
        className="grid gap-4"
        onSubmit={refusal.run(async (text) => {
          await signInSecond(ticket, text('code'));
          goIn();
        })}
      >
        <TextField
          label="Code"
          name="code"
          autoComplete="one-time-code"
          autoFocus
          required
          error={refusal.other([])}
          hint="Without the telephone, one of your recovery codes opens the door, once."
        />
        <Button kind="primary" type="submit" disabled={refusal.busy}>
          Sign in
        </Button>
        <Button kind="link" onClick={onBack}>
          Begin again
        </Button>
      </form>
    </Door>
  );
}

function Forgotten({ onSent, onBack }: { onSent(words: string): void; onBack(): void }) {
  const refusal = useRefusal();
  return (
    <Door title="A new password" words="Say which account, and a link comes by mail. It holds for an hour.">
      <form
        className="grid gap-4"
        onSubmit={refusal.run(async (text) => {
          await askForReset(text('email'));
          onSent(`If ${text('email')} has an account here, a link is on its way.`);
        })}
      >
        <TextField label="E-mail" name="email" type="email" autoComplete="username" autoFocus required error={refusal.other([])} />
        <Button kind="primary" type="submit" disabled={refusal.busy}>
          Mail the link
        </Button>
        <Button kind="link" onClick={onBack}>
          Back to signing in
        </Button>
      </form>
    </Door>
  );
}

function Register({ onSent, onBack }: { onSent(words: string): void; onBack(): void }) {
  const refusal = useRefusal();
  return (
    <Door title="A workspace of your own" words="First your address: a link comes by mail, with which you go on.">
      <form
        className="grid gap-4"
        onSubmit={refusal.run(async (text) => {
          await register(text('email'));
          onSent(`A mail is on its way to ${text('email')}. Open the link in it to go on.`);
        })}
      >
        <TextField label="E-mail" name="email" type="email" autoComplete="username" autoFocus required error={refusal.other([])} />
        <Button kind="primary" type="submit" disabled={refusal.busy}>
          Mail the link
        </Button>
        <Button kind="link" onClick={onBack}>
          Back to signing in
        </Button>
      </form>
    </Door>
  );
}
