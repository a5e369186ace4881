import { doc } from '../core/bare';
import styles from './callout.css?inline';

let root: ShadowRoot | undefined;

/** A shadow root that carries our styles. */
export function styledRoot(host: HTMLElement, ...sheets: string[]): ShadowRoot {
  // What hangs on the document's root still speaks in the type of the page's body.
  host.style.fontFamily = getComputedStyle(doc.body).fontFamily;
  const shadow = host.attachShadow({ mode: 'open' });
  shadow.adoptedStyleSheets = [styles, ...sheets].map((text) => {
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(text);
    return sheet;
  });
  return shadow;
}

/**
 * The one shadow root in which everything that lies over the page is drawn: fixed, so nothing of the page can move.
 *
 * It hangs on the document's root: in a body that is transformed, filtered or contained, "fixed" would mean that body.
 */
export function openRoot(): ShadowRoot {
  if (root?.host.isConnected) return root;
  const host = doc.createElement('outcry-callouts');
  root = styledRoot(host);
  doc.documentElement.append(host);
  return root;
}

/** The region that screen readers read from: it must be there before its content, or they stay silent. */
export function openRegion(): HTMLElement {
  const shadow = openRoot();
  const there = shadow.querySelector<HTMLElement>('.region');
  if (there) return there;
  const region = doc.createElement('div');
  region.className = 'region';
  region.setAttribute('role', 'status');
  region.setAttribute('aria-live', 'polite');
  shadow.append(region);
  return region;
}
