import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { sessionQuery, sitesQuery } from '../session/api';
import { SignIn } from '../session/SignIn';
import { Failed, Waiting } from '../ui/Notice';
import { DeskContext } from './desk';
import { Shell } from './Shell';

/** Lets members in and asks everybody else to sign in. */
export function Gate() {
  const session = useQuery(sessionQuery);
  const member = session.data?.member;
  const sites = useQuery({ ...sitesQuery, enabled: !!member });
  const site = sites.data?.[0];
  const desk = useMemo(() => (member && site ? { member, site } : undefined), [member, site]);
  if (session.isError) return <Failed error={session.error} again={() => void session.refetch()} />;
  if (session.isPending) return <Waiting>Opening the desk</Waiting>;
  if (!member) return <SignIn />;
  if (sites.isError) return <Failed error={sites.error} again={() => void sites.refetch()} />;
  if (sites.isSuccess && !site) return <Waiting>This workspace has no site yet.</Waiting>;
  if (!desk) return <Waiting>Opening the desk</Waiting>;
  return (
    <DeskContext value={desk}>
      <Shell />
    </DeskContext>
  );
}
