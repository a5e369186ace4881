import type { Drawing } from './core/drawing';
import { type Kit, kit } from './core/kit';
import type { Launched, LauncherWorld } from './core/launcher';
import type { PlanResponse } from './core/types';
import type { Heard, Listening } from './listen';
import type { Walk } from './member/mark';

type DrawFile = typeof import('./draw');

/** Fetches the files that not every page needs, each from its own unchanging address and once. */
export function openParts(desk: string) {
  // A page that is not ours must not notice a file that cannot be had.
  const fetchPart = <T>(path: string): Promise<T | undefined> => import(/* @vite-ignore */ desk + path).catch(() => undefined);
  const drawn = <T>({ draw }: PlanResponse, use: (file: DrawFile) => Promise<T>) =>
    fetchPart<DrawFile>(draw).then((file) => file && use(file));

  return {
    drawing(plan: PlanResponse): Promise<Drawing | undefined> {
      // Asked for at once; the file that draws puts the two together.
      if (plan.shapes) void fetchPart(plan.shapes);
      return drawn(plan, (file) => file.openDrawing(fetchPart, plan));
    },
    mark: (plan: PlanResponse, walk: Walk) => drawn(plan, (file) => file.mark(fetchPart, plan, desk, walk)),
    launch: (plan: PlanResponse, world: LauncherWorld): Promise<Launched | undefined> =>
      drawn(plan, (file) => file.launch(fetchPart, plan, world)),
    listen: ({ listen }: PlanResponse, heard: Heard): Promise<Listening | undefined> =>
      fetchPart<{ open(kit: Kit, heard: Heard): Listening }>(listen).then((part) => part?.open(kit, heard)),
  };
}
