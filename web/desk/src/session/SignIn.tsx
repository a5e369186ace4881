import { type FormEvent, useState } from 'react';
import { Refusal } from '../lib/api';
import { Button } from '../ui/Button';
import { Mark } from '../ui/Mark';
import { signIn } from './api';

/** The door. After signing in the page is loaded anew, so that its security headers fit the member. */
export function SignIn() {
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);

  async function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    setBusy(true);
    setProblem(undefined);
    try {
      await signIn(String(form.get('email')), String(form.get('password')));
      // Where one wanted to go is still in the address.
      location.reload();
    } catch (refusal) {
      setProblem(refusal instanceof Refusal ? refusal.message : 'That did not work. Try again.');
      setBusy(false);
    }
  }

  return (
    <main className="grid min-h-full place-items-center p-4">
      <form onSubmit={submit} className="grid w-full max-w-[360px] gap-4 border border-ink bg-sheet p-8 rounded">
        <h1 className="flex items-center gap-3 text-[28px] leading-9">
          <Mark className="h-7" /> Outcry
        </h1>
        <p className="font-display text-[16px] leading-[26px] text-soft">Sign in to the desk from which your site speaks.</p>
        <label className="grid gap-1">
          E-mail
          <input name="email" type="email" autoComplete="username" required />
        </label>
        <label className="grid gap-1">
          Password
          <input name="password" type="password" autoComplete="current-password" required />
        </label>
        <p role="alert" className="text-bad empty:hidden">
          {problem}
        </p>
        <Button kind="primary" type="submit" disabled={busy}>
          {busy ? 'Signing in' : 'Sign in'}
        </Button>
      </form>
    </main>
  );
}
