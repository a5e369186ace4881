import type { Launched, LauncherWorld } from './core/launcher';
import type { Kit } from './draw/kit';
import { openLauncher } from './launch/launcher';

/** What draws a launcher: its button and the bubbles of its greetings. */
export const open = (kit: Kit, world: LauncherWorld): Launched => openLauncher(kit, world);
