import type { Drawing, MoreDrawing } from './core/drawing';
import { type Kit, kit } from './core/kit';
import type { Mark, PlanResponse } from './core/types';
import type { Kit as DrawKit } from './draw/kit';
import type { Heard, Listening } from './listen';
import type { Walk } from './member/mark';

type DrawFile = typeof import('./draw');
type MemberFile = typeof import('./member');

/** Fetches the files that not every page needs, each from its own unchanging address and once. */
export function openParts(desk: string) {
  let more: MoreDrawing | undefined;

  // A page that is not ours must not notice a file that cannot be had.
  const fetchPart = <T>(path: string): Promise<T | undefined> => import(/* @vite-ignore */ desk + path).catch(() => undefined);

  return {
    async drawing({ draw, shapes }: PlanResponse): Promise<Drawing | undefined> {
      const [basic, rich] = await Promise.all([
        fetchPart<DrawFile>(draw),
        shapes ? fetchPart<{ open(kit: DrawKit): MoreDrawing }>(shapes) : undefined,
      ]);
      if (!basic) return undefined;
      if (rich) more ??= rich.open(basic.kit);
      const known = rich && more;
      return {
        open: (world) => basic.openScreen(world, known),
        watch(cues, tell) {
          const undo = [basic.watchActs(cues, tell), known?.watch(cues, tell)];
          return () => {
            for (const end of undo) end?.();
          };
        },
      };
    },
    async mark({ draw, stage }: PlanResponse, mark: Mark, walk: Walk) {
      const [basic, member] = await Promise.all([fetchPart<DrawFile>(draw), fetchPart<MemberFile>(mark.script)]);
      if (stage) member?.tellDesk(stage, desk);
      else if (basic) member?.showMark(basic.kit, mark, desk, walk);
    },
    async listen({ listen }: PlanResponse, heard: Heard): Promise<Listening | undefined> {
      const part = await fetchPart<{ open(kit: Kit, heard: Heard): Listening }>(listen);
      return part?.open(kit, heard);
    },
  };
}
