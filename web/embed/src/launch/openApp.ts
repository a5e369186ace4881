/** An app that is there has taken the page out of sight by then. */
const APP_ANSWERS_MS = 900;

/** Apps that something may have been asked about, such as whether to open them: nobody can tell what came of it. */
const asked = new Set<string>();

/**
 * Opens the app by its own link, and its web version where none answers. Where the browser asks first, it stays at that;
 * one who said no clicks once more and is led to the web version by the link itself.
 */
export function openApp(app: string, web: string, event: Event) {
  if (asked.delete(app)) return;
  event.preventDefault();
  // What happened tells: whether the page has the focus afterwards would not do, for it may never have had it.
  let answered = false;
  const answer = () => {
    answered = true;
    if (!document.hidden) asked.add(app);
  };
  addEventListener('blur', answer);
  document.addEventListener('visibilitychange', answer);
  // In a frame of its own: a link that nothing knows must not lead the page anywhere.
  const frame = document.createElement('iframe');
  frame.hidden = true;
  frame.src = app;
  document.documentElement.append(frame);
  setTimeout(() => {
    frame.remove();
    removeEventListener('blur', answer);
    document.removeEventListener('visibilitychange', answer);
    if (document.hidden) asked.delete(app);
    if (answered) return;
    const opened = open(web, '_blank');
    // A window that the browser did not let open leaves the page itself.
    if (opened) opened.opener = null;
    else location.assign(web);
  }, APP_ANSWERS_MS);
}
