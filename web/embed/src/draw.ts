import type { Asking, Drawing, MoreDrawing } from './core/drawing';
import type { Launched, LauncherWorld } from './core/launcher';
import type { PlanResponse } from './core/types';
import { type Kit, kit } from './draw/kit';
import { openScreen } from './draw/screen';
import { watchActs } from './listen/acts';
import type { Walk } from './member/mark';

/** What draws a slip, and puts together the files that draw more: fetched once something may have to be drawn. */
export { kit };

type Fetch = <T>(path: string) => Promise<T | undefined>;

let more: MoreDrawing | undefined;
let launched: Launched | undefined;
/** What waits for the launcher to be there. */
const waiting: (() => void)[] = [];

/** Opens what draws a plan's cues. */
export async function openDrawing(fetchPart: Fetch, plan: PlanResponse): Promise<Drawing> {
  const { shapes, ask } = plan;
  const asks = ask && (await fetchPart<{ open(kit: Kit, plan: PlanResponse): Asking }>(ask.script));
  const rich = shapes ? await fetchPart<{ open(kit: Kit): MoreDrawing }>(shapes) : undefined;
  if (rich) more ??= rich.open(kit);
  const known = rich && more;
  return {
    open: (world) =>
      openScreen(
        world,
        known,
        () => {
          if (!launched) waiting.push(world.run);
          return launched?.draw;
        },
        asks?.open(kit, plan),
      ),
    watch(cues, tell) {
      const undo = [watchActs(cues, tell), known?.watch(cues, tell)];
      return () => {
        for (const end of undo) end?.();
      };
    },
  };
}

/** Tells the desk around a stage what became of its draft; elsewhere shows the private note, or the panel of a trial visit. */
export async function mark(fetchPart: Fetch, { mark, stage }: PlanResponse, desk: string, walk: Walk): Promise<void> {
  const member = mark && (await fetchPart<typeof import('./member')>(mark.script));
  if (stage) member?.tellDesk(stage, desk);
  else if (mark) member?.showMark(kit, mark, desk, walk);
}

/** Shows the launcher of a plan, or takes it off where none stands. */
export async function launch(fetchPart: Fetch, plan: PlanResponse, world: LauncherWorld): Promise<Launched | undefined> {
  const part = plan.launcher && (await fetchPart<{ open(kit: Kit, world: LauncherWorld): Launched }>(plan.launcher.script));
  if (part) launched ??= part.open(kit, world);
  launched?.show(plan);
  for (const run of waiting.splice(0)) run();
  return launched;
}
