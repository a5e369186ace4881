import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { Refused } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { changeKey } from './api';

const KEYS = [
  [
    'links',
    'Private links',
    'Links that a member made to the site, trial visits and stages. After a second change, those made before the first no longer open.',
  ],
  [
    'passports',
    'Passports',
    'What a visitor’s browser keeps of its visits. After a second change, those not renewed since the first begin anew as new visitors.',
  ],
] as const;

type Use = (typeof KEYS)[number][0];

/** The keys by which a site signs what leaves it, each of which an owner can change at any time. */
export function SiteKeys() {
  const { site, member } = useDesk();
  const [asked, setAsked] = useState<Use>();
  const change = useMutation({
    mutationFn: (use: Use) => changeKey(site.id, use),
    onSuccess: () => setAsked(undefined),
  });
  if (!mayAct(member, 'govern')) return null;
  return (
    <section className="grid max-w-[720px] gap-2">
      <h2 className="text-[17px] leading-6">Signing keys</h2>
      <p className="text-soft">
        Change one when it may have become known. What the key before signed stays good until you change it once more.
      </p>
      <ul className="border-t border-hair">
        {KEYS.map(([use, name, what]) => (
          <li key={use} className="flex items-start gap-3 border-b border-hair py-2">
            <span className="min-w-0 flex-1">
              <b>{name}</b>
              <span className="block text-[12px] leading-4 text-soft">{what}</span>
            </span>
            {asked === use ? (
              <span className="flex flex-none gap-2">
                <Button kind="danger" disabled={change.isPending} onClick={() => change.mutate(use)}>
                  Change the key now
                </Button>
                <Button onClick={() => setAsked(undefined)}>Cancel</Button>
              </span>
            ) : (
              <Button aria-label={`Change the key of ${name.toLowerCase()}`} onClick={() => setAsked(use)}>
                Change key
              </Button>
            )}
          </li>
        ))}
      </ul>
      <p role="status" className="text-good empty:hidden">
        {change.isSuccess && !asked && 'Changed. What was signed before is still believed.'}
      </p>
      <Refused error={change.error} />
    </section>
  );
}
