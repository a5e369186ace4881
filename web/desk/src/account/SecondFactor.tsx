import { useQueryClient } from '@tanstack/react-query';
import { QRCodeSVG } from 'qrcode.react';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { sessionQuery } from '../session/api';
import { useRefusal, Wrong } from '../session/Door';
import { makeFactorKey, turnFactorOn } from './api';
import { RecoveryCodes } from './RecoveryCodes';

/** Sets an authenticator up in three steps: the password, the picture and its code, the recovery codes. */
export function SecondFactor({ onDone }: { onDone(): void }) {
  const queries = useQueryClient();
  const [made, setMade] = useState<{ key: string; address: string }>();
  const [codes, setCodes] = useState<readonly string[]>();
  const refusal = useRefusal();
  // Each step gives the session its cookie anew; the token that writes carry belongs to it.
  const renew = () => queries.fetchQuery({ ...sessionQuery, staleTime: 0 });
  if (codes) return <RecoveryCodes codes={codes} onDone={onDone} />;
  if (!made)
    return (
      <form
        noValidate
        className="grid gap-3"
        onSubmit={refusal.run(async (text) => {
          setMade(await makeFactorKey(text('password')));
          await renew();
        })}
      >
        <TextField
          label="Your password, once more"
          name="password"
          type="password"
          autoComplete="current-password"
          error={refusal.other([])}
        />
        <p>
          <Button type="submit" kind="primary" disabled={refusal.busy}>
            Set up an authenticator
          </Button>
        </p>
      </form>
    );
  return (
    <form
      noValidate
      className="grid gap-3"
      onSubmit={refusal.run(async (text) => {
        const { codes: given } = await turnFactorOn(text('code'));
        await renew();
        setCodes(given);
      })}
    >
      <p>Take this picture with the authenticator on your telephone, then type the six digits that it shows.</p>
      <div className="flex flex-wrap items-start gap-4">
        <QRCodeSVG value={made.address} size={168} marginSize={2} title="The key, for an authenticator to take" />
        <div className="grid min-w-0 flex-1 gap-3">
          <p className="text-[12px] leading-4 text-soft">
            No camera? Type this key there:
            <code className="block break-all font-mono text-[12px] text-ink">{made.key.replace(/(.{4})/g, '$1 ').trim()}</code>
          </p>
          <TextField label="Code" name="code" inputMode="numeric" autoComplete="one-time-code" autoFocus error={refusal.of('code')} />
        </div>
      </div>
      <Wrong>{refusal.other(['code'])}</Wrong>
      <p>
        <Button type="submit" kind="primary" disabled={refusal.busy}>
          Turn it on
        </Button>
      </p>
    </form>
  );
}
