import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useMemo, useState } from 'react';
import { sessionQuery, sitesQuery } from '../session/api';
import { SignIn } from '../session/SignIn';
import { Failed, Waiting } from '../ui/Notice';
import { DeskContext } from './desk';
import { Shell } from './Shell';
import { SiteForm } from './SiteSwitcher';

const HandedOver = lazy(() => import('../install/HandedOverPage').then((m) => ({ default: m.HandedOverPage })));

const CHOSEN = 'outcry.site';

/** Lets members in and asks everybody else to sign in; an install link is shown to whoever holds it. */
export function Gate() {
  return location.pathname === '/handed-over' ? (
    <Suspense>
      <HandedOver />
    </Suspense>
  ) : (
    <Members />
  );
}

function Members() {
  const session = useQuery(sessionQuery);
  const member = session.data?.member;
  const sites = useQuery({ ...sitesQuery, enabled: !!member });
  const [chosen, setChosen] = useState(() => localStorage.getItem(CHOSEN));
  const site = sites.data?.find((s) => s.id === chosen) ?? sites.data?.[0];
  const desk = useMemo(() => {
    if (!member || !site) return undefined;
    const chooseSite = (siteId: string) => {
      localStorage.setItem(CHOSEN, siteId);
      setChosen(siteId);
    };
    return { member, site, chooseSite };
  }, [member, site]);
  if (session.isError) return <Failed error={session.error} again={() => void session.refetch()} />;
  if (session.isPending) return <Waiting>Opening the desk</Waiting>;
  if (!member) return <SignIn />;
  if (sites.isError) return <Failed error={sites.error} again={() => void sites.refetch()} />;
  if (sites.isSuccess && !site)
    return (
      <main className="mx-auto grid max-w-[440px] gap-3 p-8">
        <h1 className="text-[22px] leading-7">Your first site</h1>
        <p>Say which site this is about. The line to put on it comes next.</p>
        <SiteForm site={undefined} onSaved={() => location.assign('/install')} />
      </main>
    );
  if (!desk) return <Waiting>Opening the desk</Waiting>;
  return (
    <DeskContext value={desk}>
      <Shell key={desk.site.id} />
    </DeskContext>
  );
}
