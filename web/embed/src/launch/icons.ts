import { doc } from '../core/bare';
import type { Channel } from '../core/types';

/** Signs of ways to talk, drawn with one pen on a ground of 16 by 16. */
export const SIGNS: Record<Channel['kind'] | 'Question' | 'Next' | 'Back', string> = {
  Chat: 'M2 3h12v8H7l-3 3v-3H2z',
  Form: 'M3 2h10v12H3zM5 5h6M5 8h6M5 11h3',
  Phone: 'M4 2l2 4-1.5 1.5a8 8 0 004 4L10 10l4 2c0 2-1 2-2 2A10 10 0 012 4c0-1 0-2 2-2z',
  Text: 'M4 1h8v14H4zM7 12.5h2',
  Email: 'M2 4h12v9H2zM2 4.5l6 4.5 6-4.5',
  Messenger: 'M8 2a6 5.5 0 11-2.5 10.5L2 14l1-3.5A5.5 5.5 0 018 2zM6 7.5h4',
  Link: 'M6 4H3v9h9v-3M9 2h5v5M14 2L8 8',
  Question: 'M5.5 6a2.5 2.5 0 113.5 2.300c-1 .5-1 1-1 1.700M8 12.5v.5',
  Next: 'M3 8h10M9 4l4 4-4 4',
  Back: 'M13 8H3M7 4L3 8l4 4',
};

/** One of them. */
export function sign(name: keyof typeof SIGNS): SVGElement {
  const namespace = 'http://www.w3.org/2000/svg';
  const svg = doc.createElementNS(namespace, 'svg');
  svg.setAttribute('viewBox', '0 0 16 16');
  svg.setAttribute('aria-hidden', 'true');
  svg.setAttribute('class', 'sign');
  const path = doc.createElementNS(namespace, 'path');
  path.setAttribute('d', SIGNS[name]);
  svg.append(path);
  return svg;
}
