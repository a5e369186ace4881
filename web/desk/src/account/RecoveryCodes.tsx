import { Button } from '../kit/Button';
import { CopyButton } from '../kit/Copy';

/** The recovery codes, the one time that they are shown. */
export function RecoveryCodes({ codes, onDone }: { codes: readonly string[]; onDone(): void }) {
  return (
    <div className="grid gap-3">
      <p role="status" className="font-semibold">
        Keep these codes where your telephone is not. Each opens the door once without it; they are not shown again.
      </p>
      <ul className="grid grid-cols-2 gap-x-4 gap-y-1 rounded border border-hair bg-sheet2 p-3 font-mono">
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ul>
      <p className="flex gap-2">
        <CopyButton text={codes.join('\n')}>Copy them</CopyButton>
        <Button kind="primary" onClick={onDone}>
          I have kept them
        </Button>
      </p>
    </div>
  );
}
