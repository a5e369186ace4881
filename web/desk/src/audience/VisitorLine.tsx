import { languageName } from '../kit/languages';
import { ago } from '../kit/time';
import type { VisitorRow } from './api';

const DID: Partial<Record<NonNullable<VisitorRow['did']>[number], string>> = {
  purchase: 'bought',
  booking: 'booked',
  signUp: 'signed up',
  enquiry: 'asked',
  basketAddition: 'filled a basket',
};

/** What a visitor did, in words. */
export const didWords = (did: VisitorRow['did']) => did.map((kind) => DID[kind] ?? kind).join(', ');

/** A visitor in one line: nobody's name, only what the visit showed. */
export function VisitorLine({ visitor, now }: { visitor: VisitorRow; now: number }) {
  return (
    <>
      <span className="block">
        <code className="font-mono text-[12.5px]">{visitor.short}</code>, {visitor.visit === 1 ? 'first visit' : `visit ${visitor.visit}`}{' '}
        on a {visitor.device}
        {visitor.place && `, ${visitor.place}`}
      </span>
      <span className="block text-[12px] leading-4 text-soft">
        {ago(visitor.lastAt, now)}
        {visitor.language && `, reads ${languageName(visitor.language)}`}
        {visitor.did.length > 0 && `, ${didWords(visitor.did)}`}
      </span>
    </>
  );
}
