import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, Outlet, useNavigate, useRouterState } from '@tanstack/react-router';
import { DropdownMenu } from 'radix-ui';
import { lazy, Suspense, useCallback, useEffect, useRef, useState } from 'react';
import { others, PeopleContext } from '../data/people';
import { say } from '../data/toasts';
import { useLive } from '../data/useLive';
import { HelpButton } from '../help/HelpButton';
import { countsQuery } from '../inbox/api';
import { Mark } from '../kit/Mark';
import { reviewsQuery } from '../review/api';
import { type Right, sayAway, signOut } from '../session/api';
import { useDesk } from '../session/desk';
import { initials, mayAct, ROLE_WORDS } from '../session/model';
import { OnAirStrip } from '../strip/OnAirStrip';
import { FindOrDo } from './FindOrDo';
import { SiteSwitcher } from './SiteSwitcher';

const SECTIONS = [
  ['/', 'Run sheet', 'see'],
  ['/callouts', 'Callouts', 'see'],
  ['/launchers', 'Launchers', 'see'],
  ['/inbox', 'Inbox', 'answer'],
  ['/leads', 'Leads', 'answer'],
  ['/audience', 'Audience', 'enter'],
  ['/ledger', 'Ledger', 'enter'],
  ['/team', 'Team', 'enter'],
  ['/install', 'Install', 'see'],
] as const satisfies readonly (readonly [string, string, Right])[];

const HelpPanel = lazy(() => import('../help/HelpPanel').then((m) => ({ default: m.HelpPanel })));

/** Pages for members whose role sees no callouts. */
const OPEN_TO_ALL = ['/inbox', '/leads', '/ledger', '/audience', '/team', '/account', '/developers'];

/** What somebody who answers visitors finds in the place of callouts. */
function NotTheirs() {
  return (
    <div className="grid max-w-[560px] gap-3 p-6">
      <h1 className="text-[22px] leading-7">Callouts are not part of your role</h1>
      <p>
        You answer visitors, in the inbox. Who they are and what they did stands in the{' '}
        <Link to="/ledger" className="font-semibold text-cobalt hover:underline">
          ledger
        </Link>{' '}
        and under{' '}
        <Link to="/audience" className="font-semibold text-cobalt hover:underline">
          audience
        </Link>
        .
      </p>
    </div>
  );
}

/** The frame of every screen: sections above, on-air strip below, one page between. */
export function Shell() {
  const { site, member, workspace } = useDesk();
  const sectionsOf = SECTIONS.filter(([, , right]) => mayAct(member, right));
  const people = useLive(site.id, workspace.idleMinutes);
  const reviews = useQuery({ ...reviewsQuery(site.id), enabled: mayAct(member, 'publish') });
  const talks = useQuery({ ...countsQuery(site.id), enabled: mayAct(member, 'answer') });
  const unanswered = talks.data?.waiting ?? 0;
  const waiting = reviews.data?.filter((r) => r.mayApprove && !r.isApproved).length ?? 0;
  const sections = useRef<HTMLElement>(null);
  const path = useRouterState({ select: (state) => state.location.pathname });
  // On a narrow screen the sections scroll; the one that is open must be in sight.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the path says which link is active.
  useEffect(() => {
    // Its result must not be returned: newer browsers give a promise, which is no clean-up.
    sections.current?.querySelector('[aria-current]')?.scrollIntoView({ inline: 'center', block: 'nearest' });
  }, [path]);
  const said = useArrival(path);
  // What of the guide lies open; an empty text is the page's own part.
  const [help, setHelp] = useState<string>();
  const openHelp = useCallback((open: boolean) => setHelp(open ? '' : undefined), []);
  return (
    <PeopleContext value={people}>
      <div className="flex h-full flex-col">
        <a href="#page" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:p-2">
          Skip to the page
        </a>
        <header className="flex h-12 flex-none items-center gap-4 border-b border-ink bg-sheet px-4 max-sm:gap-3 max-sm:px-3">
          <span className="flex items-center gap-2 font-display text-[18px] font-bold tracking-tight">
            <Mark /> <span className="max-sm:hidden">Outcry</span>
          </span>
          <span className="h-6 w-px bg-hair max-md:hidden" />
          <SiteSwitcher />
          <nav ref={sections} aria-label="Sections" className="ms-2 flex h-full flex-1 gap-5 overflow-x-auto max-sm:ms-0">
            {sectionsOf.map(([to, words]) => (
              <Link
                key={to}
                to={to}
                activeOptions={{ exact: to === '/' }}
                // The rehearsal is the run sheet's other view.
                aria-current={to === '/' && path === '/rehearsal' ? 'page' : undefined}
                className={`flex h-full items-center border-b-[3px] pt-[3px] whitespace-nowrap hover:text-ink ${
                  to === '/' && path === '/rehearsal'
                    ? 'border-marigold font-semibold text-ink'
                    : 'border-transparent font-medium text-soft'
                }`}
                activeProps={{ className: '!border-marigold !text-ink font-semibold' }}
              >
                {words}
                {to === '/inbox' && unanswered > 0 && (
                  <span className="ms-1.5 rounded-sm bg-ink px-1.5 text-[12px] leading-5 text-white">
                    {unanswered}
                    <span className="sr-only"> waiting</span>
                  </span>
                )}
                {to === '/team' && waiting > 0 && (
                  <span className="ms-1.5 rounded-sm bg-ink px-1.5 text-[12px] leading-5 text-white">
                    {waiting}
                    <span className="sr-only"> in review</span>
                  </span>
                )}
              </Link>
            ))}
          </nav>
          <FindOrDo onHelp={setHelp} />
          <HelpButton open={help !== undefined} onOpen={openHelp} />
          {others(people.all, member.id).map((person) => (
            <span
              key={person.memberId}
              title={person.isAway ? `${person.name} is away` : `${person.name} is at the desk`}
              className={`grid h-8 w-8 flex-none place-items-center rounded font-display text-[12px] font-bold ${
                person.isAway ? 'border border-dashed border-line text-soft' : 'bg-[#c9cdc4]'
              }`}
            >
              {initials(person.name)}
              <span className="sr-only">
                : {person.name} {person.isAway ? 'is away' : 'is at the desk'}
              </span>
            </span>
          ))}
          <MemberMenu isAway={people.all.some((p) => p.memberId === member.id && p.isAway)} />
        </header>
        <div className="relative flex min-h-0 flex-1">
          <main id="page" tabIndex={-1} className="min-h-0 min-w-0 flex-1 overflow-hidden outline-none">
            {mayAct(member, 'see') || OPEN_TO_ALL.some((p) => path.startsWith(p)) ? <Outlet /> : <NotTheirs />}
          </main>
          {help !== undefined && (
            <Suspense>
              <HelpPanel key={help} about={help || undefined} onClose={() => setHelp(undefined)} />
            </Suspense>
          )}
        </div>
        <p role="status" className="sr-only">
          {said}
        </p>
        <OnAirStrip siteId={site.id} />
      </div>
    </PeopleContext>
  );
}

/**
 * After a change of page the focus goes to the page, so that the next Tab is in it, and its title is read aloud.
 *
 * A page that takes the focus to one of its own controls keeps it there.
 */
function useArrival(path: string): string {
  const [said, setSaid] = useState('');
  const isFirst = useRef(true);
  // biome-ignore lint/correctness/useExhaustiveDependencies: one arrives when the path changes.
  useEffect(() => {
    if (isFirst.current) {
      isFirst.current = false;
      return;
    }
    // By then a page that is fetched first is drawn as a rule, and has said its title.
    const timer = setTimeout(() => {
      const page = document.getElementById('page');
      if (page && !page.contains(document.activeElement)) page.focus({ preventScroll: true });
      setSaid(document.title);
    }, 150);
    return () => clearTimeout(timer);
  }, [path]);
  return said;
}

function MemberMenu({ isAway }: { isAway: boolean }) {
  const { member, workspace } = useDesk();
  const go = useNavigate();
  const change = useMutation({
    mutationFn: (away: boolean) => sayAway(workspace.id, away),
    onSuccess: (_, away) => say(away ? 'Visitors are not told that you are there.' : 'You are there for visitors again.'),
  });
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label={`${initials(member.name)}, ${member.name}, signed in${isAway ? ', away' : ''}`}
        className={`grid h-8 w-8 place-items-center rounded font-display text-[12px] font-bold ${
          isAway ? 'border border-dashed border-ink text-ink' : 'bg-ink text-white'
        }`}
      >
        {initials(member.name)}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={6} className="z-50 min-w-56 rounded border border-ink bg-sheet p-1 shadow-lg">
          <div className="px-2 py-1">
            <div className="font-semibold">{member.name}</div>
            <div className="text-[12px] text-soft">
              {member.email}, {ROLE_WORDS[member.role].toLowerCase()}
            </div>
          </div>
          <DropdownMenu.Separator className="my-1 h-px bg-hair" />
          {mayAct(member, 'answer') && (
            <DropdownMenu.CheckboxItem
              className="flex min-h-8 cursor-pointer items-center gap-2 rounded px-2 outline-none data-[highlighted]:bg-selectwash"
              checked={isAway}
              onCheckedChange={(away) => change.mutate(away)}
            >
              <span className="grid h-4 w-4 place-items-center rounded-sm border border-ink" aria-hidden="true">
                <DropdownMenu.ItemIndicator>✓</DropdownMenu.ItemIndicator>
              </span>
              Away for visitors
            </DropdownMenu.CheckboxItem>
          )}
          <DropdownMenu.Item
            className="flex min-h-8 cursor-pointer items-center rounded px-2 outline-none data-[highlighted]:bg-selectwash"
            onSelect={() => void go({ to: '/account' })}
          >
            Your account
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className="flex min-h-8 cursor-pointer items-center rounded px-2 outline-none data-[highlighted]:bg-selectwash"
            onSelect={() => void signOut().then(() => location.assign('/'))}
          >
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
