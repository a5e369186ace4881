import { useMutation } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { Check, CircleHelp, X } from 'lucide-react';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { Refused } from '../kit/Panel';
import { ago } from '../kit/time';
import { useDesk } from '../session/desk';
import { checkPage, type PageCheck } from './api';

/** Looks at one page by its address: is the line in it, may it speak, was it heard, and what would each callout do there. */
export function PageCheckForm({ home }: { home: string }) {
  const { site } = useDesk();
  const check = useMutation({ mutationFn: (address: string) => checkPage(site.id, address) });
  return (
    <section className="grid max-w-[720px] gap-3">
      <h2 className="text-[17px] leading-6">Check a page</h2>
      <form
        className="grid gap-3 sm:grid-cols-[minmax(0,1fr)_auto] sm:items-end"
        onSubmit={(event) => {
          event.preventDefault();
          check.mutate(String(new FormData(event.currentTarget).get('address')));
        }}
      >
        <TextField label="Its address" name="address" type="url" required defaultValue={home} />
        <Button type="submit" disabled={check.isPending}>
          {check.isPending ? 'Looking' : 'Check'}
        </Button>
      </form>
      <Refused error={check.error} />
      {check.data && <Result checked={check.data} />}
    </section>
  );
}

function Result({ checked }: { checked: PageCheck }) {
  return (
    <div className="grid gap-3" role="status">
      <ul className="border-t border-hair">
        {checked.hostAllowed && (
          <Line passed={checked.heardAt !== null}>
            {checked.heardAt
              ? `The snippet was last heard from ${checked.path} ${ago(checked.heardAt, Date.now())}; ${checked.views.toLocaleString('en-GB')} page views in 30 days.`
              : `The snippet was not heard from ${checked.path} in the last 30 days.`}
          </Line>
        )}
        {checked.tests.map((t) => (
          <Line key={t.name} passed={t.passed}>
            {t.sentence}
          </Line>
        ))}
      </ul>
      <table className="w-full">
        <caption className="mb-1 text-start font-semibold">What each live callout would do there, for a new visitor</caption>
        <tbody>
          {checked.callouts.length === 0 && (
            <tr>
              <td className="py-1 text-soft">No callout is live.</td>
            </tr>
          )}
          {checked.callouts.map((c) => (
            <tr key={c.id} className="border-t border-hair align-top">
              <td className="w-[200px] py-1.5 pe-3">
                <Link to="/callouts/$calloutId" params={{ calloutId: c.id }} className="font-semibold hover:underline">
                  {c.name}
                </Link>
              </td>
              <td className="py-1.5">
                <span className={c.shows ? 'text-good' : ''}>{c.sentence}</span>
                {c.decider && (
                  <span className="block text-[12px] leading-4 text-soft">
                    decided by <code className="font-mono">{c.decider}</code>
                  </span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Line({ passed, children }: { passed: boolean | null; children: string }) {
  const [Icon, tone, word] =
    passed === null ? [CircleHelp, 'text-soft', 'not known'] : passed ? [Check, 'text-good', 'passed'] : [X, 'text-bad', 'failed'];
  return (
    <li className="flex gap-2 border-b border-hair py-1.5">
      <Icon className={`mt-0.5 h-4 w-4 flex-none ${tone}`} aria-label={word as string} />
      {children}
    </li>
  );
}
