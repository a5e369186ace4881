import { Button } from '../kit/Button';
import { signOut } from '../session/api';
import { Door } from '../session/Door';
import { SecondFactor } from './SecondFactor';

/** What stands in the place of a workspace that asks for a second factor, until there is one. */
export function FactorNeeded({ workspace }: { workspace: string }) {
  return (
    <Door
      wide
      title="A second factor"
      words={`${workspace} asks its people to sign in with more than a password. Set it up here; it takes a minute.`}
    >
      <SecondFactor onDone={() => location.reload()} />
      <p className="text-soft">
        You have one already? Then sign out and sign in with it.{' '}
        <Button kind="link" onClick={() => void signOut().then(() => location.assign('/'))}>
          Sign out
        </Button>
      </p>
    </Door>
  );
}
