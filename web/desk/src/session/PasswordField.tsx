import { useState } from 'react';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';

/** A new password: as long as it has to be, seen when wanted, pasted when wished. */
export function PasswordField({ label, name, error }: { label: string; name: string; error?: string | undefined }) {
  const [seen, setSeen] = useState(false);
  return (
    <div className="grid gap-1">
      <TextField
        label={label}
        name={name}
        type={seen ? 'text' : 'password'}
        autoComplete="new-password"
        error={error}
        hint="At least 12 characters. Several words that mean nothing together are best."
      />
      <p>
        <Button kind="link" aria-pressed={seen} onClick={() => setSeen(!seen)}>
          {seen ? 'Hide what I typed' : 'Show what I typed'}
        </Button>
      </p>
    </div>
  );
}
