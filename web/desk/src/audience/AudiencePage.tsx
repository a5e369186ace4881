import { useQuery } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { groupsQuery, segmentsQuery } from '../catalogue/api';
import { Button } from '../kit/Button';
import { PhraseMenu } from '../kit/PhraseMenu';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import { GroupPanel } from './GroupPanel';
import { GroupsView } from './GroupsView';
import { SegmentPanel } from './SegmentPanel';
import { SegmentsView } from './SegmentsView';
import { VisitorPanel } from './VisitorPanel';
import { VisitorsView } from './VisitorsView';

const VIEWS = [
  ['segments', 'segments'],
  ['visitors', 'visitors'],
  ['groups', 'page groups'],
] as const;

/** Who visits and what is visited: segments with their live size, recorded visitors, page groups. */
export function AudiencePage() {
  const { site, member } = useDesk();
  const search = useSearch({ from: '/audience' });
  const navigate = useNavigate({ from: '/audience' });
  const view = search.view ?? 'segments';
  useTitle('Audience');
  const { data: segments } = useQuery(segmentsQuery(site.id));
  const { data: groups } = useQuery(groupsQuery(site.id));
  const put = (change: Partial<typeof search>) => void navigate({ search: (before) => ({ ...before, ...change }) });
  const close = () => put({ id: undefined });
  const mayAdd = mayAct(member, 'draft');
  const segment = segments?.find((s) => s.id === search.id);
  const group = groups?.find((g) => g.id === search.id);
  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-14 flex-none flex-wrap items-center gap-x-5 border-b border-ink px-4 py-2">
        <h1 className="text-[22px] leading-7">Audience</h1>
        <p className="font-display text-[16px] leading-[28px]">
          Showing{' '}
          <PhraseMenu
            facet={view === 'groups' ? 'where' : 'who'}
            label="Showing"
            value={view}
            choices={VIEWS}
            onChoose={(v) => void navigate({ search: { view: v === 'segments' ? undefined : v } })}
          />
          {view === 'visitors' && (
            <>
              {' '}
              from{' '}
              <PhraseMenu
                facet="who"
                label="Segment"
                value={search.segment ?? ''}
                choices={[['', 'any segment'], ...(segments ?? []).map((s) => [s.id, s.name] as const)]}
                onChoose={(id) => put({ segment: id || undefined, skip: undefined })}
              />{' '}
              who saw a page with{' '}
              <input
                aria-label="Part of the page's path"
                placeholder="anything in its path"
                defaultValue={search.page ?? ''}
                className="w-44 !min-h-7 font-mono text-[12.5px] placeholder:font-sans placeholder:text-soft"
                onKeyDown={(e) => e.key === 'Enter' && put({ page: e.currentTarget.value.trim() || undefined, skip: undefined })}
                onBlur={(e) => put({ page: e.currentTarget.value.trim() || undefined, skip: undefined })}
              />
            </>
          )}
        </p>
        {mayAdd && view !== 'visitors' && (
          <Button kind="primary" className="ms-auto" onClick={() => put({ id: 'new' })}>
            {view === 'segments' ? 'New segment' : 'New page group'}
          </Button>
        )}
      </div>
      <div className="relative flex min-h-0 flex-1">
        <div className="min-w-0 flex-1 overflow-auto">
          {view === 'segments' && <SegmentsView chosen={search.id} onChoose={(id) => put({ id })} />}
          {view === 'groups' && <GroupsView chosen={search.id} onChoose={(id) => put({ id })} />}
          {view === 'visitors' && (
            <VisitorsView
              segment={search.segment}
              page={search.page}
              skip={search.skip ?? 0}
              chosen={search.id}
              onChoose={(id) => put({ id })}
              onSkip={(skip) => put({ skip: skip || undefined })}
            />
          )}
        </div>
        {view === 'segments' && segments && search.id && (segment || search.id === 'new') && (
          <SegmentPanel
            key={`${search.id}:${segment?.changedAt}`}
            segment={segment}
            segments={segments}
            onSaved={(id) => put({ id })}
            onClose={close}
          />
        )}
        {view === 'groups' && groups && search.id && (group || search.id === 'new') && (
          <GroupPanel key={search.id} group={group} onSaved={(id) => put({ id })} onClose={close} />
        )}
        {view === 'visitors' && search.id && <VisitorPanel key={search.id} visitorId={search.id} onClose={close} />}
      </div>
    </div>
  );
}
