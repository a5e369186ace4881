import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Mark } from '../kit/Mark';
import { Failed, Waiting } from '../kit/Notice';
import { installByLinkQuery } from './api';
import { HearingPane } from './HearingPane';
import { Snippet } from './InstallPage';

/** What a developer sees who was handed the line: the line, where it goes, whether it works. No account, nothing else. */
export function HandedOverPage() {
  // Behind "#", where no server's log keeps it.
  const [token] = useState(() => location.hash.slice(1));
  const install = useQuery(installByLinkQuery(token));
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-12 flex-none items-center gap-3 border-b border-ink bg-sheet px-4 font-display text-[18px] font-bold tracking-tight">
        <Mark /> Outcry
      </header>
      <main className="min-h-0 flex-1 overflow-auto">
        {install.isError && <Failed error={install.error} />}
        {install.isPending && <Waiting>Fetching the line</Waiting>}
        {install.data && (
          <div className="grid min-h-full lg:grid-cols-[minmax(0,1fr)_400px]">
            <div className="grid content-start gap-6 bg-sheet p-6 lg:border-e lg:border-ink">
              <h1 className="text-[22px] leading-7">
                One line for {install.data.siteName}{' '}
                <span className="font-sans text-[13px] font-normal text-soft">{install.data.homeAddress}</span>
              </h1>
              <Snippet line={install.data.snippet} />
              <p className="max-w-[720px] text-soft">
                Answered on {install.data.hosts.join(', ')}
                {install.data.testHosts.length > 0 && `, and as a test on ${install.data.testHosts.join(', ')}`}. With a
                Content-Security-Policy, allow {location.origin} in script-src and connect-src.
              </p>
            </div>
            <HearingPane install={install.data} />
          </div>
        )}
      </main>
    </div>
  );
}
