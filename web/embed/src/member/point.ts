import { selectorOf } from './selector';

/** An element that was pointed at. */
export interface Picked {
  selector: string;
  label: string;
  matches: number;
}

/**
 * Lets somebody point at an element of the page: what the pointer or the focus is on is framed, a click or Enter takes it.
 *
 * The page does not notice: the click is taken before anything of its own hears of it. Escape gives up.
 */
export function pointAt(panel: HTMLElement, done: (picked: Picked | undefined) => void) {
  const frame = document.createElement('div');
  frame.style.cssText =
    'position:fixed;z-index:2147483647;pointer-events:none;outline:3px solid #1f4bd8;outline-offset:1px;background:rgba(31,75,216,.12)';
  document.body.append(frame);
  let under: Element | undefined;

  const look = (element: Element | null) => {
    if (!element || element === panel || element === document.body || element === document.documentElement) return;
    under = element;
    const { left, top, width, height } = element.getBoundingClientRect();
    Object.assign(frame.style, { left: `${left}px`, top: `${top}px`, width: `${width}px`, height: `${height}px` });
  };
  const isPanel = (event: Event) => event.composedPath().includes(panel);
  const move = (event: PointerEvent) => isPanel(event) || look(document.elementFromPoint(event.clientX, event.clientY));
  const focus = (event: FocusEvent) => isPanel(event) || look(event.target as Element);
  const still = (event: Event) => {
    if (isPanel(event)) return;
    event.preventDefault();
    event.stopImmediatePropagation();
  };
  const click = (event: MouseEvent) => {
    if (isPanel(event)) return;
    still(event);
    // A touch has no pointer before it.
    look(document.elementFromPoint(event.clientX, event.clientY));
    take();
  };
  const key = (event: KeyboardEvent) => {
    if (event.key === 'Escape') end(undefined);
    else if (event.key === 'Enter' && under && !isPanel(event)) {
      still(event);
      take();
    }
  };
  const listeners = [
    ['pointermove', move],
    ['focusin', focus],
    ['pointerdown', still],
    ['mousedown', still],
    ['mouseup', still],
    ['click', click],
    ['keydown', key],
  ] as [string, EventListener][];
  for (const [name, listener] of listeners) addEventListener(name, listener, true);

  function take() {
    if (!under) return;
    const label = (under.getAttribute('aria-label') || under.textContent || under.localName).trim().replace(/\s+/g, ' ').slice(0, 80);
    end({ ...selectorOf(under), label });
  }
  function end(picked: Picked | undefined) {
    for (const [name, listener] of listeners) removeEventListener(name, listener, true);
    frame.remove();
    done(picked);
  }
}
