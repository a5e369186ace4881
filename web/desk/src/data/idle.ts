const SIGNS = ['pointermove', 'pointerdown', 'keydown', 'wheel', 'touchstart', 'focus'] as const;
/** Of a hand that moves without rest one sign in so long is enough. */
const NOTED_MS = 1_000;

/**
 * Tells when nothing has moved in this tab for a while, and when something moves again.
 *
 * @param after - Milliseconds without a movement.
 */
export function watchIdle(after: number, told: (isIdle: boolean) => void): { isIdle(): boolean; stop(): void } {
  let idle = false;
  let noted = -Infinity;
  let timer: ReturnType<typeof setTimeout>;
  const still = () => {
    idle = true;
    told(true);
  };
  const moved = () => {
    const now = performance.now();
    if (!idle && now - noted < NOTED_MS) return;
    noted = now;
    clearTimeout(timer);
    timer = setTimeout(still, after);
    if (!idle) return;
    idle = false;
    told(false);
  };
  for (const sign of SIGNS) addEventListener(sign, moved, { passive: true, capture: true });
  timer = setTimeout(still, after);
  return {
    isIdle: () => idle,
    stop() {
      clearTimeout(timer);
      for (const sign of SIGNS) removeEventListener(sign, moved, { capture: true });
    },
  };
}
