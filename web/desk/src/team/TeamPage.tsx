import { useQuery } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { Button } from '../kit/Button';
import { Failed, Waiting } from '../kit/Notice';
import { PhraseMenu } from '../kit/PhraseMenu';
import { reviewsQuery } from '../review/api';
import { ReviewView } from '../review/ReviewView';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import { ActivityView } from './ActivityView';
import { teamQuery } from './api';
import { BrandKitView } from './BrandKitView';
import { HouseView } from './HouseView';
import { InvitePanel } from './InvitePanel';
import { LibraryView } from './LibraryView';
import { MembersPane } from './MembersPane';
import { TokensView } from './TokensView';

/** The team: what was done, who is in it, what they agreed on, and the machines that work for them. */
export function TeamPage() {
  const { workspace, member, site } = useDesk();
  const search = useSearch({ from: '/team' });
  const navigate = useNavigate({ from: '/team' });
  useTitle('Team');
  const team = useQuery(teamQuery(workspace.id));
  const sees = mayAct(member, 'see');
  const reviews = useQuery({ ...reviewsQuery(site.id), enabled: sees });
  if (team.isError) return <Failed page="Team" error={team.error} again={() => void team.refetch()} />;
  if (!team.data) return <Waiting page="Team">Fetching the team</Waiting>;
  const governs = mayAct(member, 'govern');
  const view =
    (search.view === 'tokens' || search.view === 'house') && governs
      ? search.view
      : (search.view === 'review' || search.view === 'kit' || search.view === 'library') && sees
        ? search.view
        : 'activity';
  const waiting = reviews.data?.length ?? 0;
  const people = [['', 'everybody'] as const, ...team.data.members.map((m) => [m.id, m.name] as const)];
  return (
    <div className="relative flex h-full flex-col">
      <div className="flex min-h-[52px] flex-none flex-wrap items-center gap-x-4 gap-y-1 border-b border-ink px-4 py-2">
        <h1 className="text-[22px] leading-7">Team</h1>
        {view === 'activity' && sees && (
          <p className="font-display text-[18px] leading-8">
            Showing what was done by{' '}
            <PhraseMenu
              facet="who"
              label="Whose acts"
              value={search.member ?? ''}
              choices={people}
              onChoose={(m) => void navigate({ search: { ...search, member: m || undefined }, replace: true })}
            />
          </p>
        )}
        {view === 'review' && <p className="font-display text-[18px] leading-8">What waits for a second look</p>}
        <span className="ms-auto flex items-center gap-3">
          {sees && (
            <nav aria-label="Views" className="flex overflow-hidden rounded border border-ink">
              {(
                [
                  ['review', `Review${waiting ? ` ${waiting}` : ''}`, 'review'],
                  [undefined, 'Activity', 'activity'],
                  ['kit', 'Brand kit', 'kit'],
                  ['library', 'Library', 'library'],
                  ...(governs
                    ? ([
                        ['tokens', 'Tokens', 'tokens'],
                        ['house', 'House', 'house'],
                      ] as const)
                    : []),
                ] as const
              ).map(([to, words, key]) => (
                <button
                  key={key}
                  type="button"
                  aria-current={view === key ? 'page' : undefined}
                  className={`min-h-8 px-3 font-medium ${view === key ? 'bg-ink text-white' : 'bg-sheet hover:bg-sheet2'}`}
                  onClick={() => void navigate({ search: to ? { view: to } : {} })}
                >
                  {words}
                </button>
              ))}
            </nav>
          )}
          {governs && (
            <Button kind="primary" onClick={() => void navigate({ search: { ...search, panel: 'invite' } })}>
              Invite
            </Button>
          )}
        </span>
      </div>
      <div className="flex min-h-0 flex-1">
        <div className="min-h-0 flex-1 overflow-auto" role="region" aria-label="The team" tabIndex={0}>
          <div className="grid min-h-full lg:grid-cols-[minmax(0,1fr)_432px]">
            <div className="bg-sheet lg:border-e lg:border-ink">
              {view === 'tokens' ? (
                <TokensView />
              ) : view === 'kit' ? (
                <BrandKitView />
              ) : view === 'library' ? (
                <LibraryView />
              ) : view === 'house' ? (
                <HouseView />
              ) : view === 'review' ? (
                <ReviewView />
              ) : sees ? (
                <ActivityView key={search.member ?? ''} member={search.member} query={search.query} />
              ) : (
                <p className="p-4 text-soft">Your role answers visitors; what was done with callouts is not part of it.</p>
              )}
            </div>
            <MembersPane team={team.data} />
          </div>
        </div>
        {search.panel === 'invite' && governs && (
          <InvitePanel team={team.data} onClose={() => void navigate({ search: { ...search, panel: undefined }, replace: true })} />
        )}
      </div>
    </div>
  );
}
