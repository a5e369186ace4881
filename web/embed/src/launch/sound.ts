/** Two short notes, soft; only once the visitor has done something on the page, since browsers allow it no earlier. */
export function ring() {
  if (!navigator.userActivation?.hasBeenActive) return;
  try {
    const context = new AudioContext();
    const gain = context.createGain();
    gain.gain.setValueAtTime(0.06, 0);
    gain.gain.exponentialRampToValueAtTime(0.001, 0.5);
    gain.connect(context.destination);
    for (const [at, hertz] of [
      [0, 660],
      [0.14, 880],
    ] as const) {
      const note = context.createOscillator();
      note.frequency.value = hertz;
      note.connect(gain);
      note.start(at);
      note.stop(at + 0.12);
    }
    setTimeout(() => void context.close(), 800);
  } catch {
    // A browser without sound: the greeting is read.
  }
}
