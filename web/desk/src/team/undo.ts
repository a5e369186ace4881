import { answered, client } from '../data/api';
import type { Right, Role } from '../session/api';
import { setRole, type Trace } from './api';

/** The way back from an act, as far as there is one that makes it as it was. */
export interface WayBack {
  right: Right;
  run(): Promise<unknown>;
}

const MOVES: Record<string, readonly [move: 'pause' | 'resume' | 'archive' | 'take-back', right: Right]> = {
  paused: ['resume', 'publish'],
  resumed: ['pause', 'publish'],
  restored: ['archive', 'draft'],
  deleted: ['take-back', 'draft'],
};

/** How an act is undone; undefined where what it did cannot be taken back as a whole. */
export function wayBack(trace: Pick<Trace, 'act' | 'link' | 'siteId' | 'changes'>, workspaceId: string): WayBack | undefined {
  const { siteId } = trace;
  const [kind, id] = trace.link.split('/');
  const move = MOVES[trace.act];
  if (move && siteId && id && (kind === 'callout' || kind === 'launcher')) {
    const path = { params: { path: { siteId, id } } };
    // Only whether it went well is of interest here; each kind answers with a shape of its own.
    const done = (answer: { error?: unknown; response: Response }) => ({ data: true, error: answer.error, response: answer.response });
    return {
      right: move[1],
      run: () =>
        answered(
          kind === 'callout'
            ? client.POST(`/api/sites/{siteId}/callouts/{id}/${move[0]}`, path).then(done)
            : client.POST(`/api/sites/{siteId}/launchers/{id}/${move[0]}`, path).then(done),
        ),
    };
  }
  if (siteId && (trace.act === 'took off air' || trace.act === 'put back on air'))
    return {
      right: 'publish',
      run: () =>
        answered(
          client.PUT('/api/sites/{siteId}/off-air', { params: { path: { siteId } }, body: { offAir: trace.act === 'put back on air' } }),
        ),
    };
  const before = trace.changes.find((c) => c.what === 'role')?.before;
  if (trace.act === 'changed the role of' && id && before)
    return { right: 'govern', run: () => setRole(workspaceId, id, before.toLowerCase() as Role) };
  return undefined;
}
