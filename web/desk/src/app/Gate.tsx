import { useQuery } from '@tanstack/react-query';
import { RouterProvider } from '@tanstack/react-router';
import { lazy, Suspense, useMemo, useState } from 'react';
import { Failed, Waiting } from '../kit/Notice';
import { type Member, type Site, sessionQuery, sitesQuery, type Workspace } from '../session/api';
import { DeskContext } from '../session/desk';
import { addressOf, readAddress, sectionOf } from './address';
import { routerOf } from './routes';
import { SiteForm } from './SiteSwitcher';

const HandedOver = lazy(() => import('../install/HandedOverPage').then((m) => ({ default: m.HandedOverPage })));

// Members who are signed in, as most are, need none of these.
const SignIn = lazy(() => import('../session/SignIn').then((m) => ({ default: m.SignIn })));
const Opening = lazy(() => import('../session/Opening').then((m) => ({ default: m.Opening })));
const Join = lazy(() => import('../session/ByLink').then((m) => ({ default: m.Join })));
const Reset = lazy(() => import('../session/ByLink').then((m) => ({ default: m.Reset })));
const FactorNeeded = lazy(() => import('../account/FactorNeeded').then((m) => ({ default: m.FactorNeeded })));

/** The site looked at last; where an address names none, it is meant. */
const LAST = 'outcry.site';

/** Lets members in and asks everybody else to sign in; an install link is shown to whoever holds it. */
export function Gate() {
  return (
    <Suspense fallback={<Waiting page="Outcry">Opening the door</Waiting>}>
      <Way />
    </Suspense>
  );
}

function Way() {
  switch (location.pathname) {
    case '/handed-over':
      return <HandedOver />;
    case '/join':
      return <Join />;
    case '/reset':
      return <Reset />;
    default:
      return <Members />;
  }
}

function Members() {
  const session = useQuery(sessionQuery);
  const member = session.data?.member;
  const sites = useQuery({ ...sitesQuery, enabled: !!member });
  if (session.isError) return <AtDoor failed={session.error} again={() => void session.refetch()} />;
  if (session.isPending) return <AtDoor />;
  if (!member) {
    const confirmed = location.pathname === '/open' ? location.hash.slice(1) : '';
    return confirmed || session.data.houseIsEmpty ? (
      <Opening confirmed={confirmed || undefined} />
    ) : (
      <SignIn mayRegister={session.data.mayRegister} />
    );
  }
  if (sites.isError && !sites.data) return <AtDoor failed={sites.error} again={() => void sites.refetch()} />;
  if (!sites.data) return <AtDoor />;
  const asked = readAddress(location.pathname);
  const site = asked.siteKey ? sites.data.find((s) => s.key === asked.siteKey) : (lastOf(sites.data) ?? sites.data[0]);
  if (sites.data.length === 0)
    return (
      <main className="mx-auto grid max-w-[440px] gap-3 p-8">
        <h1 className="text-[22px] leading-7">Your first site</h1>
        <p>Say which site this is about. The line to put on it comes next.</p>
        <SiteForm
          workspaceId={member.workspaces[0]?.id ?? ''}
          site={undefined}
          onSaved={(saved) => location.assign(addressOf(saved.key, '/install'))}
        />
      </main>
    );
  if (!site) return <NoSuchSite sites={sites.data} />;
  if (member.workspaces.find((w) => w.id === site.workspaceId)?.needsFactor)
    return <FactorNeeded workspace={member.workspaces.find((w) => w.id === site.workspaceId)?.name ?? ''} />;
  return <AtDesk key={site.key} site={site} member={member} page={asked.siteKey ? undefined : asked.page} />;
}

/** What stands there until it is known who comes in, and to which sites. */
function AtDoor({ failed, again }: { failed?: unknown; again?: () => void }) {
  return <main>{again ? <Failed page="Outcry" error={failed} again={again} /> : <Waiting page="Outcry">Opening the desk</Waiting>}</main>;
}

// Storage may be forbidden; then the first site is meant.
function lastOf(sites: readonly Site[]) {
  try {
    const last = localStorage.getItem(LAST);
    return sites.find((s) => s.id === last);
  } catch {
    return undefined;
  }
}

function AtDesk({ site, member, page }: { site: Site; member: Member; page: string | undefined }) {
  // Made once: a page must not begin anew because its site was renamed.
  const [router] = useState(() => {
    // Older links name no site: from here on the address does, so that it means the same to whoever gets it.
    if (page !== undefined) history.replaceState(history.state, '', addressOf(site.key, page) + location.search + location.hash);
    try {
      localStorage.setItem(LAST, site.id);
    } catch {
      // Next time the first site opens; nothing else hangs on it.
    }
    return routerOf(site.key);
  });
  const workspace = member.workspaces.find((w) => w.id === site.workspaceId) as Workspace;
  const desk = useMemo(
    () => ({
      member: { ...member, role: workspace.role, rights: workspace.rights },
      workspace,
      site,
      chooseSite: (key: string) => location.assign(addressOf(key, sectionOf(readAddress(location.pathname).page))),
    }),
    [member, workspace, site],
  );
  return (
    <DeskContext value={desk}>
      <RouterProvider router={router} />
    </DeskContext>
  );
}

function NoSuchSite({ sites }: { sites: readonly Site[] }) {
  return (
    <main className="mx-auto grid max-w-[440px] gap-3 p-8">
      <h1 className="text-[22px] leading-7">This site is not in your workspace</h1>
      <p>It was removed, or the link was made in another workspace. Open one of yours:</p>
      <ul className="grid gap-1">
        {sites.map((s) => (
          <li key={s.id}>
            <a href={addressOf(s.key)} className="font-semibold text-cobalt hover:underline">
              {s.name}
            </a>
          </li>
        ))}
      </ul>
    </main>
  );
}
