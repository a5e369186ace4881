// Plays page views with the snippet's own queue: one JSON line in, one JSON line out. The rehearsal's tests compare.
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';
import { rolldown } from 'rolldown';

const entry = fileURLToPath(new URL('../src/core/queue.ts', import.meta.url));
const bundle = await rolldown({ input: entry, logLevel: 'silent' });
const { output } = await bundle.generate({ format: 'es' });
const { createQueue } = await import(`data:text/javascript,${encodeURIComponent(output[0].code)}`);

/** Plays one page view as the browser would, on a clock of its own that stands still while the tab is hidden. */
function play({ cues, rules, visit, touch, acts, stayMs }) {
  const seen = [];
  let wall = 0;
  let visible = 0;
  let hidden = false;
  let began = false;
  const queue = createQueue(cues, rules, visit, touch, {
    ready: () => true,
    start(cue, turn, asked) {
      seen.push(['start', cue.id, turn, wall, asked]);
      return true;
    },
    end: (cue, turn, by) => seen.push(['end', cue.id, turn, wall, by]),
  });
  const left = [...acts];
  for (;;) {
    const next = hidden ? undefined : queue.nextMs(visible);
    const by = next === undefined ? Number.POSITIVE_INFINITY : wall + Math.max(0, next - visible);
    // The page view runs its queue once as it begins.
    const at = Math.min(began ? by : 0, left[0]?.at ?? Number.POSITIVE_INFINITY);
    if (at > stayMs || (at === stayMs && left[0]?.at !== stayMs)) return seen;
    if (!hidden) visible += at - wall;
    wall = at;
    began = true;
    for (let act = left[0]; act && act.at <= wall; act = left[0]) {
      left.shift();
      // The page view stops its clock before it tells of the tab, and the queue runs only while that goes.
      if (act.k === 'Hide' || act.k === 'Return') hidden = act.k === 'Hide';
      if (act.k === 'close' || act.k === 'click') queue.finish(act.id, act.k === 'close' ? 'closed' : 'clicked', visible);
      else if (act.k === 'hover' || act.k === 'leave') queue.hover(act.id, act.k === 'hover', visible);
      else if (act.k === 'hold') queue.hold(act.what, act.open, visible);
      else if (act.k === 'over') queue.over(act.id, visible);
      else queue.act(act, visible);
    }
    if (!hidden) queue.step(visible);
  }
}

for await (const line of createInterface({ input: process.stdin })) process.stdout.write(`${JSON.stringify(play(JSON.parse(line)))}\n`);
