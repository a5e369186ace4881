/** Waits between two tries to open a line that broke off; the last one is kept up for as long as it takes. */
const WAITS_MS = [0, 1_000, 3_000, 10_000, 30_000] as const;

/** How long to wait before the try of this number, the first being 0. Never "no more": a desk stays open for days. */
export const waitBefore = (tryNumber: number): number => WAITS_MS[Math.min(tryNumber, WAITS_MS.length - 1)] ?? 30_000;

/** What a line to the server has to be able to do here. */
export interface Line {
  start(): Promise<void>;
  stop(): Promise<void>;
  onclose(told: () => void): void;
}

/**
 * Opens a line and opens it again whenever it could not be opened or was closed, until told to stop.
 *
 * @param onOpen - Is told each time it is open.
 * @returns Stops it for good.
 */
export function keepOpen(line: Line, onOpen: (isFirst: boolean) => void): () => void {
  let stopped = false;
  let tries = 0;
  let opened = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  async function open() {
    try {
      await line.start();
      tries = 0;
      if (stopped) return void line.stop();
      onOpen(opened++ === 0);
    } catch {
      // Tried again below: the server may be starting, or the network away.
      again();
    }
  }
  function again() {
    clearTimeout(timer);
    if (!stopped) timer = setTimeout(() => void open(), waitBefore(++tries));
  }
  line.onclose(again);
  void open();
  return () => {
    stopped = true;
    clearTimeout(timer);
    void line.stop();
  };
}
