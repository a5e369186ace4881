/** An app that is there has taken the page out of sight by then. */
const APP_ANSWERS_MS = 900;

/** Opens the app by its own link, and its web version where none answers. */
export function openApp(app: string, web: string, event: Event) {
  event.preventDefault();
  // In a frame of its own: a link that nothing knows must not lead the page anywhere.
  const frame = document.createElement('iframe');
  frame.hidden = true;
  frame.src = app;
  document.documentElement.append(frame);
  setTimeout(() => {
    frame.remove();
    if (document.hidden || !document.hasFocus()) return;
    const opened = open(web, '_blank');
    // A window that the browser did not let open leaves the page itself.
    if (opened) opened.opener = null;
    else location.assign(web);
  }, APP_ANSWERS_MS);
}
